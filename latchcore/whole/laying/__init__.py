"""
How the nodes of a build become conductors: which two terminals each piece of wire joins, and what
it carries.
"""
