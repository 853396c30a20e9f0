"""FastAPI app: requests in, pages out. No arithmetic, no SQL."""
