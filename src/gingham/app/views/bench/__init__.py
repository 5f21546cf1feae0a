"""The pattern bench: patterns tried, said, varied, fitted and judged, in a window beside the main one."""
