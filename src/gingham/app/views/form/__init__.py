"""The form window: sections and their order, bars of their own, endings, words, tune, sums."""
