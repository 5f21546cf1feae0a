"""Picking patterns and their shorthand."""
