"""What several views paint and type with."""
