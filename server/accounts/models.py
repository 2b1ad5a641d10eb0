"""People and their accounts. A person signs; an account is only how they sign in."""

from __future__ import annotations

from django.contrib.auth.models import AbstractUser
from django.db import models


class Person(models.Model):
    """Someone who builds, helps or inspects. Two accounts of one person count once."""

    slug = models.SlugField(unique=True)
    name = models.CharField(max_length=80)

    def __str__(self) -> str:
        return self.name


class User(AbstractUser):
    """A sign-in."""

    person = models.ForeignKey(Person, on_delete=models.PROTECT, null=True, related_name="users")


class KeptWrite(models.Model):
    """The answer to a write, by the key that the browser made for it."""

    user = models.ForeignKey(User, on_delete=models.CASCADE)
    key = models.CharField(max_length=64)
    digest = models.CharField(max_length=64)
    status = models.PositiveSmallIntegerField()
    body = models.TextField()
    content_type = models.CharField(max_length=80)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["user", "key"], name="one_answer_per_key")]
