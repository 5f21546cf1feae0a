"""The bass line and the changes of a section at a glance, in a window beside the Build view."""
