"""The HTTP API and the server of the built front end. Routes parse, call one use case, return a declared model."""
