"""The use cases: what a technician does with the workshop, each one function; one module per noun.

Nothing is imported here, so that the command line loads only what its command needs.
"""
