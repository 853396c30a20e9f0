"""Small simulated devices and services: they speak over the wire only."""
