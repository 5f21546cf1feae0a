"""The computations: no interface, no device, no global state."""
