"""The pulse: a network of lines solved in complex frequency and carried back to time. Imports basics."""
