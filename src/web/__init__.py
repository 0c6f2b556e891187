"""The web application: keeps jobs in PostgreSQL, calls the library, draws.

config    settings, urls, wsgi        accounts  sign up, sign in, password
jobs      jobs, nodes, the event log  tables    the published tables, readable
words     messages and figures in the person's language and locale
drawing   from a solution to shapes; templates do the markup
"""
