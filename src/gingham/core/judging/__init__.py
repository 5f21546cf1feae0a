"""What the result means for ears and hands: heard, held, comfortable speed."""
