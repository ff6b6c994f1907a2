"""FastAPI: routes by resource, models, security and the built page."""
