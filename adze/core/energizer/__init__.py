"""The energizer as a source of pulses, its supply, lightning. Imports basics, pulse, tables."""
