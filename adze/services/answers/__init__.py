"""What the core says of a plan as pages and the command line take it: no database."""
