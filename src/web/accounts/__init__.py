"""Accounts, on Django's own auth: sign up, sign in, sign out, change password."""
