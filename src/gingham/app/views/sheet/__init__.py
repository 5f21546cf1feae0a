"""The Sheet view: the pages as they will be printed, and what may be chosen of them."""
