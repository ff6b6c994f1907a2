"""Requests about shoots and their folders."""
