"""A plan solved: volts, touches, earth test, stray volts. Imports every room above but the energizer's fit."""
