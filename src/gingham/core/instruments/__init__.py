"""Instruments, tunings and the capo."""
