"""The API's routes, one module a resource."""
