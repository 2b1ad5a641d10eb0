"""Facts of the domain. Property tests run the same examples every time, however slow the machine."""

from hypothesis import HealthCheck, settings

# A busy machine is slow, not wrong.
SLOW = [HealthCheck.too_slow]
settings.register_profile("facts", deadline=None, derandomize=True, suppress_health_check=SLOW)
settings.load_profile("facts")
