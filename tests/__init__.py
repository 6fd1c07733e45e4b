"""Tests, laid out as the package is."""

from hypothesis import HealthCheck, settings

# no test hangs on the clock, and the same tree is tried with the same examples
settings.register_profile("steady", deadline=None, derandomize=True, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("steady")
