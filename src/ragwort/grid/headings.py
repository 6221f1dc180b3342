"""What the headings of a table mean: names, labels, symbols and usual synonyms, in any case, plural, with units."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Iterable, Mapping

from ragwort.designs.assumption import Assumption
from ragwort.study.document.aim import Aim
from ragwort.study.words.naming import label_of
from ragwort.study.words.scenarios import short_label

_UNIT = re.compile(r"\s*[(\[,;].*$")  # after a heading: `difference (ms)`, `sd, ms`
_GREEK = {
    "α": "alpha",
    "β": "beta",
    "δ": "delta",
    "∆": "delta",
    "ε": "epsilon",
    "η": "eta",
    "θ": "theta",
    "κ": "kappa",
    "λ": "lambda",
    "μ": "mu",
    "µ": "mu",
    "ν": "nu",
    "π": "pi",
    "ρ": "rho",
    "σ": "sigma",
    "φ": "phi",
    "ψ": "psi",
}
_GROUPS = {"control": "1", "reference": "1", "treatment": "2", "treated": "2", "intervention": "2", "experimental": "2"}

# By assumption what else people call it. Several designs may have different quantities under one of these words.
SYNONYMS: Mapping[str, tuple[str, ...]] = {
    "accrual": ("accrual time", "accrual period", "recruitment time", "recruitment period", "enrolment period"),
    "alpha": ("significance", "significance level", "type I error", "type 1 error", "level"),
    "cluster_size": ("m", "size of clusters", "n per cluster", "patients per cluster", "subjects per cluster"),
    "cluster_size_cv": ("cv", "cv of cluster size", "cv cluster size"),
    "clusters": ("k", "number of clusters", "n clusters", "clusters per arm"),
    "comparisons": ("number of comparisons", "tests"),
    "contrast": ("psi", "contrast value"),
    "correlation": ("r", "corr", "rho", "correlation coefficient", "within correlation"),
    "covariates": ("number of covariates", "n covariates"),
    "d": ("cohen's d", "cohens d", "smd", "standardised difference", "standardized difference", "effect size"),
    "difference": ("diff", "mean difference", "md", "delta", "effect", "change", "mean change"),
    "dispersion": ("overdispersion", "dispersion parameter"),
    "dropout": ("drop out", "drop-out rate", "attrition", "loss to follow up", "ltfu", "withdrawal", "lost"),
    "eta_squared": ("eta2", "eta^2", "partial eta squared", "etasq"),
    "events": ("number of events", "n events", "deaths", "d"),
    "f": ("cohen's f", "cohens f", "effect size"),
    "f_squared": ("f2", "f^2", "cohen's f2", "f squared", "effect size"),
    "follow_up": ("followup", "follow up time", "fu"),
    "groups": ("k", "number of groups", "n groups", "arms"),
    "hazard1": ("hazard 1", "lambda 1", "control hazard", "baseline hazard", "h1"),
    "hazard_ratio": ("hr", "hazard"),
    "icc": ("rho", "intraclass correlation", "intra-cluster correlation", "intracluster correlation coefficient"),
    "loss": ("hazard of loss", "loss rate"),
    "margin": ("ni margin", "non-inferiority margin", "equivalence margin", "delta margin"),
    "margin_high": ("upper limit", "upper equivalence limit"),
    "margin_low": ("lower limit", "lower equivalence limit"),
    "mean": ("mu", "m", "expected mean"),
    "mean1": ("mu1", "m1", "mean group 1", "mean arm 1", "group 1 mean", "mean a"),
    "mean2": ("mu2", "m2", "mean group 2", "mean arm 2", "group 2 mean", "mean b"),
    "mean_ratio": ("gmr", "ratio of means", "geometric mean ratio"),
    "measurements": ("number of measurements", "time points", "visits", "repeats"),
    "median1": ("median 1", "median arm 1", "median survival 1"),
    "median2": ("median 2", "median arm 2", "median survival 2"),
    "n": ("total n", "n total", "total", "total sample size", "sample size", "participants", "subjects", "patients"),
    "n1": ("n 1", "n group 1", "group 1 n", "n arm 1", "size 1", "sample size 1"),
    "n2": ("n 2", "n group 2", "group 2 n", "n arm 2", "size 2", "sample size 2"),
    "n_per_cell": ("n per cell", "cell size", "per cell"),
    "n_per_group": (
        "n per group",
        "per group",
        "n per arm",
        "per arm",
        "n each",
        "group size",
        "sample size per group",
    ),
    "null_mean": ("mu0", "m0", "null mean", "reference", "norm", "mean 0"),
    "null_proportion": ("p0", "pi0", "null proportion", "reference proportion", "proportion 0", "known proportion"),
    "null_rate": ("lambda0", "null rate", "rate 0"),
    "null_rho": ("rho0", "r0", "null correlation"),
    "null_sd": ("sigma0", "sd0", "null sd"),
    "odds_ratio": ("or", "odds"),
    "partial_r": ("partial correlation", "pr"),
    "power": ("1-beta", "1 - beta", "target power"),
    "predictors": ("number of predictors", "n predictors", "k"),
    "probability": ("p", "probability of superiority", "auc"),
    "probability1": ("p1", "prob1", "probability 1"),
    "probability2": ("p2", "prob2", "probability 2"),
    "proportion": ("p", "pi", "p1", "prop", "expected proportion", "response rate"),
    "proportion01": ("p01", "discordant 01"),
    "proportion1": ("p1", "pi1", "prop1", "proportion group 1", "proportion arm 1", "risk 1", "event rate 1"),
    "proportion10": ("p10", "discordant 10"),
    "proportion2": ("p2", "pi2", "prop2", "proportion group 2", "proportion arm 2", "risk 2", "event rate 2"),
    "r_squared": ("r2", "r^2", "rsq", "explained variance"),
    "rate": ("lambda", "rate 1", "event rate"),
    "rate1": ("lambda 1", "incidence 1", "rate group 1", "event rate 1"),
    "rate2": ("lambda 2", "incidence 2", "rate group 2", "event rate 2"),
    "rate_ratio": ("rr", "irr", "incidence rate ratio"),
    "ratio": ("allocation", "allocation ratio", "n2/n1", "k"),
    "rho": ("r", "correlation coefficient", "corr"),
    "rho1": ("r1", "correlation 1"),
    "rho2": ("r2", "correlation 2"),
    "risk_ratio": ("rr", "relative risk"),
    "sd": ("s", "s.d.", "sigma", "std", "stdev", "std dev", "common sd", "pooled sd", "standard deviation"),
    "sd1": ("s1", "sigma 1", "std 1", "sd group 1", "standard deviation 1"),
    "sd2": ("s2", "sigma 2", "std 2", "sd group 2", "standard deviation 2"),
    "sd_difference": ("sd of differences", "sd diff", "sigma d", "sd of change", "sd", "sigma"),
    "sd_within": ("within sd", "sd within", "sigma within", "sd", "sigma"),
    "sides": ("side", "tails", "tail", "tailed", "alternative"),
    "slope": ("beta", "b", "regression coefficient"),
    "sphericity": ("epsilon", "ε"),
    "survival1": ("s1", "survival 1", "event free 1"),
    "survival2": ("s2", "survival 2", "event free 2"),
    "w": ("cohen's w", "cohens w", "effect size"),
}


def plain(heading: str) -> str:
    """A heading without its unit, signs, capitals and spaces; letters spelled out, `treatment` as group 2."""
    text = unicodedata.normalize("NFKC", _UNIT.sub("", heading)).lower()
    text = "".join(f" {_GREEK[c]} " if c in _GREEK else c for c in text)
    words = [_GROUPS.get(word, word) for word in re.split(r"[\W_]+", text)]
    return "".join(words)


def called(assumption: Assumption, aim: Aim) -> list[set[str]]:
    """What a quantity is called, the surest first: its own name, its labels and symbol, what else people say."""
    label = label_of(assumption, aim)
    labels = (assumption.label, label, short_label(label), assumption.symbol)
    return [
        _all({assumption.name}),
        _all(word for word in labels if word),
        _all(SYNONYMS.get(assumption.name, ())),
    ]


def _all(words: Iterable[str]) -> set[str]:
    return {plain(word) for word in words} - {""}


def meant_by(heading: str, among: Iterable[Assumption], aim: Aim) -> str | None:
    """The name of the quantity that a heading means; None where it means none of them."""
    known = [(each.name, called(each, aim)) for each in among]
    wanted = [plain(heading), plain(_without_unit(heading, aim.words.unit))]
    wanted += [word.removesuffix("s") for word in wanted]
    for surest in range(3):
        for word in dict.fromkeys(each for each in wanted if each):
            found = [name for name, words in known if word in words[surest]]
            if found:
                return found[0]
    return None


def _without_unit(heading: str, unit: str) -> str:
    """`SD ms`, `difference_ms`: a unit that stands after the name."""
    units = "|".join(re.escape(each) for each in (unit, "%", "percent", "per cent", "pct") if each)
    return re.sub(rf"[\s_]+(?:{units})\s*$", "", heading, flags=re.IGNORECASE)
