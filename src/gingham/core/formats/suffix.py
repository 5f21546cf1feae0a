"""What piece files end in."""

SUFFIX = ".gingham"
