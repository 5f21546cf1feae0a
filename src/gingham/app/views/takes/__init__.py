"""The Takes page: what was played, laid over what was meant."""
