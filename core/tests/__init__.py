"""Facts of the domain. Property tests run the same examples every time, however slow the machine."""

from hypothesis import settings

settings.register_profile("facts", deadline=None, derandomize=True)
settings.load_profile("facts")
