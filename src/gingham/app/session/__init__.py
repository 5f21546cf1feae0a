"""The open pieces and what is shown of them."""
