"""The plucking hand on the chord under the cursor."""
