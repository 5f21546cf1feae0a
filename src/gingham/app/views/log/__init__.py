"""The Log: what was practised as small pictures, today's plan, what is due."""
