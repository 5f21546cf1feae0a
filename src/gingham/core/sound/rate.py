"""The sample rate of everything that sounds. NumPy is not needed to know it."""

RATE_HZ = 44_100
