"""How passwords are hashed."""

from django.contrib.auth.hashers import Argon2PasswordHasher


class FieldArgon2Hasher(Argon2PasswordHasher):
    """Argon2id on one lane with 19 MiB and two passes: the smallest that OWASP's *Password Storage Cheat Sheet* takes,
    so that guessing strangers can't take the processors away from people in the field.
    """

    time_cost = 2
    memory_cost = 19 * 1024
    parallelism = 1
