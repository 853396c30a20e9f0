"""Parts lists, prices and energizers, in and out."""
