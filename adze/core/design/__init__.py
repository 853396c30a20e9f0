"""From a few answers to a whole fence, and every finding with what mends it. Imports all other rooms."""
