"""The ground in and out: GeoJSON, GPX, KML, CSV of corners."""
