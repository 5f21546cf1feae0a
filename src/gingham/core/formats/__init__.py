"""Reading and writing files, one module per format."""
