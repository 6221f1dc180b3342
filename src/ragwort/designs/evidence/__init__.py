"""Where an effect comes from: routes from what is known to the assumptions of a design, a family a module.

A design names its routes; the panel, the study file and the report know nothing of any one of them.
"""

from ragwort.designs.evidence.groups import CONTRAST, FACTORS, REPEATED, SEVERAL_GROUPS
from ragwort.designs.evidence.means import CLUSTER_MEANS, CROSSOVER, ONE_GROUP, ONE_SHIFT, PAIRS, TWO_GROUPS
from ragwort.designs.evidence.models import MODEL_FIT
from ragwort.designs.evidence.precise import SHARE_ALONE, SHARES_ALONE, SPREAD_OF_ONE, SPREAD_OF_TWO
from ragwort.designs.evidence.ranks import TWO_RANKS
from ragwort.designs.evidence.rates import ONE_RATE, SURVIVAL, TWO_RATES
from ragwort.designs.evidence.relations import ADDED, COEFFICIENT, MODEL, ODDS, RELATION, TWO_RELATIONS
from ragwort.designs.evidence.route import Finding, Route
from ragwort.designs.evidence.scatter import ONE_SCATTER, TWO_SCATTERS
from ragwort.designs.evidence.shares import CLUSTER_SHARES, ONE_SHARE, PAIRED_SHARES, TREND, TWO_SHARES
from ragwort.designs.evidence.tables import FIT, TABLE

__all__ = [
    "ADDED",
    "CLUSTER_MEANS",
    "CLUSTER_SHARES",
    "COEFFICIENT",
    "CONTRAST",
    "CROSSOVER",
    "FACTORS",
    "FIT",
    "MODEL",
    "MODEL_FIT",
    "ODDS",
    "ONE_GROUP",
    "ONE_RATE",
    "ONE_SCATTER",
    "ONE_SHARE",
    "ONE_SHIFT",
    "PAIRED_SHARES",
    "PAIRS",
    "RELATION",
    "REPEATED",
    "SEVERAL_GROUPS",
    "SHARES_ALONE",
    "SHARE_ALONE",
    "SPREAD_OF_ONE",
    "SPREAD_OF_TWO",
    "SURVIVAL",
    "TABLE",
    "TREND",
    "TWO_GROUPS",
    "TWO_RANKS",
    "TWO_RATES",
    "TWO_RELATIONS",
    "TWO_SCATTERS",
    "TWO_SHARES",
    "Finding",
    "Route",
]
