"""Mending on made studies: passes or is proved impossible, no dearer than one by one, near an independent optimiser."""

from __future__ import annotations

import time

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import minimize

from glaucon.core.colour.contrast import relative_luminance
from glaucon.core.colour.oklab import oklab_from_srgb, srgb_from_oklab
from glaucon.core.mending.thorough import mixtures
from glaucon.core.mending.thorough.joint import Problem, Spots, solve
from glaucon.core.mending.thorough.mend_rows import Mended, mend_rows
from tests.checking_proofs import by_brute_force, is_impossible
from tests.made_studies import made_study


def check(seed: int) -> tuple[Problem, Mended, float]:
    problem = made_study(seed)
    start = time.perf_counter()
    solve(problem)
    took = time.perf_counter() - start
    mended = mend_rows(problem)
    failing = set(np.nonzero(problem.spots.margins(mended.solved.colours) < 1 - 1e-9)[0].tolist())
    named = {one.row for one in mended.impossible} | set(mended.unproved)
    assert failing == named
    for one in mended.impossible:
        assert one.row in one.rows
        rows = problem.spots.only(one.rows)
        assert is_impossible(rows, problem.bounds), f"study {seed}: the proof for row {one.row} does not hold"
        used = [r for r in range(rows.share.shape[2]) if np.abs(rows.share[:, :, r]).max() > 0]
        assert len(used) > 1 or by_brute_force(rows, problem.bounds, used)
    return problem, mended, took


def one_by_one(problem: Problem) -> tuple[float, int]:
    """Return the cost and what is left when failing rows are mended in order, each by the nearest for its words."""
    colours = problem.colours.copy()
    spots = problem.spots
    moved = {v.roles[0]: v for v in problem.variables}
    for row in range(len(spots)):
        if spots.margins(colours)[row] >= 1 - 1e-9:
            continue
        for role in [r for r in range(spots.share.shape[2]) if spots.share[0, row, r].any() and r in moved]:
            candidates = moved[role].candidates
            ours = np.nonzero(np.abs(spots.share[:, :, role]).max(axis=(0, 2)) > 0)[0]
            reads = _read(spots.only(ours), colours, role, candidates.colours)
            if reads.any():
                colours[role] = candidates.colours[np.argmin(np.where(reads, candidates.delta_e_ok, np.inf))]
    apart = np.linalg.norm(oklab_from_srgb(colours) - oklab_from_srgb(problem.colours), axis=1)
    cost = sum(v.weight * apart[v.roles[0]] for v in problem.variables)
    return float(cost), int((spots.margins(colours) < 1 - 1e-9).sum())


def _read(spots: Spots, colours: np.ndarray, role: int, tried: np.ndarray) -> np.ndarray:
    """Return whether all rows read for each colour tried for a role, shape (tried,)."""
    rest = colours.copy()
    rest[role] = 0
    still = np.einsum("sirc,rc->sic", spots.share, rest) + spots.still
    seen = spots.share[:, :, role] * tried[:, None, None] + still
    light = relative_luminance(np.clip(seen, 0, 1)) + 0.05
    ratio = np.maximum(light[:, 0], light[:, 1]) / np.minimum(light[:, 0], light[:, 1])
    return np.asarray((ratio >= spots.required * (1 - 1e-9)).all(axis=1))


def optimised(problem: Problem, keep: np.ndarray) -> float:
    """Return the least cost that SLSQP finds from several starts, in OKLab, colours within sRGB and 2° of their hue."""
    roles = [v.roles[0] for v in problem.variables]
    weights = np.array([v.weight for v in problem.variables])
    first = oklab_from_srgb(problem.colours[roles])
    spots = problem.spots.only(keep)
    chroma = np.hypot(first[:, 1], first[:, 2])
    bounds = problem.bounds[roles]
    along = first[:, 1:] / np.maximum(chroma, 1e-9)[:, None]

    def lab_of(x: np.ndarray) -> np.ndarray:
        return x.reshape(-1, 3)

    def cost(x: np.ndarray) -> float:
        return float(weights @ np.sqrt(((lab_of(x) - first) ** 2).sum(axis=1) + 1e-12))

    def limits(x: np.ndarray) -> np.ndarray:
        lab = lab_of(x)
        srgb = srgb_from_oklab(lab)
        colours = problem.colours.copy()
        colours[roles] = np.clip(srgb, 0, 1)
        light = np.log(relative_luminance(spots.seen(colours)) + 0.05)
        gap = np.abs(light[0] - light[1]) - np.log(spots.required)
        ab = lab[:, 1:]
        forward = (ab * along).sum(axis=1)
        across = np.abs(ab[:, 0] * along[:, 1] - ab[:, 1] * along[:, 0])
        hue = np.where(chroma < 0.02, 1.0, forward * np.tan(np.radians(2)) + 1e-4 - across)
        own = relative_luminance(np.clip(srgb, 0, 1))
        return np.concatenate(
            [
                gap,
                hue,
                own - bounds[:, 0] + 1e-4,
                bounds[:, 1] + 1e-4 - own,
                (srgb + 1e-4).ravel(),
                (1 + 1e-4 - srgb).ravel(),
            ]
        )

    best = np.inf
    dice = np.random.default_rng(0)
    starts = [oklab_from_srgb(solve(problem).colours[roles])]
    for _ in range(4):
        lightness = dice.random(len(roles))[:, None]
        starts.append(np.concatenate([lightness, first[:, 1:] * 0.4], axis=1))
    for start in starts:
        found = minimize(
            cost, start.ravel(), method="SLSQP", constraints={"type": "ineq", "fun": limits},
            options={"maxiter": 150, "ftol": 1e-7},
        )  # fmt: skip
        if limits(found.x).min() > -1e-4:
            best = min(best, cost(found.x))
    return best


def measured(seeds: range, optimise: int) -> str:
    """Return what came of some made studies, in words; fails where a figure does not hold."""
    took, cheaper, near, left, unproved, lost = [], [], [], 0, 0, 0
    for seed in seeds:
        problem, mended, seconds = check(seed)
        took.append(seconds)
        left += len(mended.impossible)
        unproved += len(mended.unproved)
        cost, rest = one_by_one(problem)
        failing = len(mended.solved.failing)
        assert failing <= rest
        if failing == rest:
            cheaper.append(mended.solved.cost / cost if cost else 1.0)
            assert mended.solved.cost <= cost * (1 + 1e-6) + 1e-9, f"study {seed}: one by one is cheaper"
        if len(near) < optimise:
            keep = np.setdiff1d(np.arange(len(problem.spots)), mended.solved.failing)
            best = optimised(problem, keep)
            lost += not np.isfinite(best)
            near += [mended.solved.cost / best if best > 1e-6 else 1.0] if np.isfinite(best) else []
    text = (
        f"{len(took)} studies: {left} rows proved impossible, {unproved} left without a proof; "
        f"total change beside one by one, where that leaves no more: mean {np.mean([1.0, *cheaper]):.3f}, "
        f"worst {max([0.0, *cheaper]):.3f} on {len(cheaper)}, it leaves more on {len(took) - len(cheaper)}; "
        f"beside SLSQP on {len(near)}: mean {np.mean([*near] or [1.0]):.3f}, worst {max(near, default=1.0):.3f}, "
        f"it found nothing on {lost} more; median {np.median(took) * 1000:.0f} ms, longest {max(took) * 1000:.0f} ms"
    )
    print(text)
    assert not unproved, text
    assert max(near, default=1.0) <= 1.05, text
    return text


@given(st.lists(st.tuples(*[st.floats(0, 1)] * 3), min_size=3, max_size=3), st.floats(0.02, 0.98), st.floats(0, 1))
def test_no_mixture_is_darker_or_lighter_than_its_bounds(colours, share, part) -> None:  # type: ignore[no-untyped-def]
    words, ground, still = np.array(colours)
    shares = np.array([share, (1 - share) * part])
    rest = 1 - shares.sum()
    seen = float(relative_luminance(shares[0] * words + shares[1] * ground + rest * still))
    light = np.array([[float(relative_luminance(words)), float(relative_luminance(ground))]])
    assert mixtures.least(shares, light, rest, still)[0] <= seen + 1e-9
    every = np.array([[*light[0], float(relative_luminance(still))]])
    assert mixtures.most(np.array([*shares, rest]), every)[0] >= seen - 1e-9


@pytest.mark.parametrize(
    ("seeds", "optimise"),
    [
        pytest.param(range(1002, 1003), 0, id="one"),
        pytest.param(range(200), 50, id="two hundred", marks=pytest.mark.prove),
    ],
)
def test_made_studies_pass_or_are_proved_impossible(seeds: range, optimise: int) -> None:
    measured(seeds, optimise)
