"""From the result to samples: plucked string, click, mixing."""
