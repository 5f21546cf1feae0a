"""What sounds: devices, stream, transport, playing."""
