"""Practise: stages to play one after the other, and a picture to follow from a music stand."""
