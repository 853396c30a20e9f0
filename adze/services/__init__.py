"""One function per thing a person or a device does."""
