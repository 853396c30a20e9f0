"""The work: tools, steps, crew, days. Imports basics, tables, plan, ground, build, forecast, verdict."""
