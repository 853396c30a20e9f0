"""Electrodes in soil: ohms of rods, rows, plates and wires, and tests of the soil. Imports basics."""
