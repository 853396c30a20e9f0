"""The fence over the year: what is due, rounds, what readings say together. Imports basics, plan, ground, forecast."""
