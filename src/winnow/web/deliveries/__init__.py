"""Requests about deliveries."""
