"""Remedies, options, the design search. Imports every room above but pulse, soil and energizer."""
