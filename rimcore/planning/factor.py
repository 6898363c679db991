"""What one's own estimates are worth: a normal of unknown mean and variance over ln(taken ÷ estimated)."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from scipy import special

from rimcore.planning.drawn import OwnFactor

#: prior (common practice: first-time work takes half as long again), worth two jobs
MU_0, KAPPA_0, ALPHA_0, BETA_0 = math.log(1.5), 2.0, 2.0, 0.18
#: jobs of one kind from which they are taken alone
OF_A_KIND = 3


@dataclass(frozen=True)
class Past:
    """A job that was clocked."""

    estimated_hours: float
    taken_hours: float
    kind: str = ""


@dataclass(frozen=True)
class Learnt:
    """The factor with what it rests on."""

    used: int
    median: float
    sigma_common: float
    sigma_task: float
    df: float
    sigma: float
    low_80: float
    high_80: float
    prior_share_pct: float

    @property
    def own(self) -> OwnFactor:
        """As a schedule takes it."""
        return OwnFactor(self.median, self.sigma_common, self.df, self.sigma_task)


def taken(past: Sequence[Past], kind: str | None = None) -> list[Past]:
    """Jobs that count: of that kind alone where there are three of it, else all.

    Source: common practice.

    Parameters
    ----------
    past : jobs that were clocked
    kind : of work; None: any

    >>> len(taken([Past(1, 2, "brakes")] * 3 + [Past(1, 1)], "brakes"))
    3
    """
    of_kind = [one for one in past if kind is not None and one.kind == kind]
    return of_kind if len(of_kind) >= OF_A_KIND else list(past)


def learnt(past: Sequence[Past], kind: str | None = None) -> Learnt:
    """The posterior and what it says of one next job.

    Parameters
    ----------
    past : estimated and taken hours, each over 0 [h]
    kind : of work

    Source: conjugate normal-inverse-gamma (Gelman et al., Bayesian Data Analysis, § 3.3); prior: common practice.

    >>> found = learnt([])
    >>> round(found.median, 3), round(found.low_80, 3), round(found.high_80, 3), found.prior_share_pct
    (1.5, 0.854, 2.635, 100.0)
    """
    rows = [math.log(one.taken_hours / one.estimated_hours) for one in taken(past, kind)]
    count = len(rows)
    mean = sum(rows) / count if count else 0.0
    kappa, alpha = KAPPA_0 + count, ALPHA_0 + count / 2.0
    mu = (KAPPA_0 * MU_0 + sum(rows)) / kappa
    spread = 0.5 * sum((one - mean) ** 2 for one in rows)
    beta = BETA_0 + spread + (KAPPA_0 * count * (mean - MU_0) ** 2 / (2.0 * kappa) if count else 0.0)
    sigma = math.sqrt(beta * (kappa + 1.0) / (alpha * kappa))
    width = float(special.stdtrit(2.0 * alpha, 0.9)) * sigma
    return Learnt(
        used=count,
        median=math.exp(mu),
        sigma_common=math.sqrt(beta / (alpha * kappa)),
        sigma_task=math.sqrt(beta / alpha),
        df=2.0 * alpha,
        sigma=sigma,
        low_80=math.exp(mu - width),
        high_80=math.exp(mu + width),
        prior_share_pct=100.0 * KAPPA_0 / kappa,
    )
