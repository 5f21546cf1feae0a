"""Pattern × assignment = result: placing, thumb, fingers, overrides applied."""
