"""Money that may still come: what snags have cost an hour of work so far, over the hours that are left."""

from __future__ import annotations

from collections.abc import Sequence


def snags_to_come(past_minor: Sequence[int], clocked_h: float, left_h: float) -> tuple[float, float] | None:
    """Likely, and what 80 % stay under [minor units]; None where nothing was clocked or no snag is known.

    Snags come at the rate they came at, each of the mean cost they had; their number is Poisson's, its rate known as
    well as the count tells (gamma), so the number still to come is negative binomial.

    Parameters
    ----------
    past_minor : what each snag has cost [minor units]
    clocked_h : hours of work so far, over 0 [h]
    left_h : hours still to come [h]

    Source: Gelman et al., Bayesian Data Analysis, § 2.6 (Poisson with a gamma prior; ½ and 0: Jeffreys).

    >>> snags_to_come([4000, 2000], 10.0, 10.0)
    (7500.0, 12000.0)
    >>> snags_to_come([], 10.0, 5.0) is None
    True
    """
    if not past_minor or clocked_h <= 0 or left_h < 0:
        return None
    # Loaded here: it takes as long as a page, and few ask for it.
    from scipy import stats

    shape, mean = len(past_minor) + 0.5, sum(past_minor) / len(past_minor)
    most = float(stats.nbinom.ppf(0.8, shape, clocked_h / (clocked_h + left_h))) if left_h > 0 else 0.0
    return shape * left_h / clocked_h * mean, most * mean
