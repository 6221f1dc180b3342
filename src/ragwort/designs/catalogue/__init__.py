"""Every design, a family a folder: one class each, decorated with `@register`.

The order here is the order in lists.
"""

# isort: off
from ragwort.designs.catalogue.means import independent, single, pairs, crossover  # noqa: F401
from ragwort.designs.catalogue.anova import one_way, ancova, contrast, factorial, repeated  # noqa: F401
from ragwort.designs.catalogue.proportions import one, two, pairs as paired_proportions, trend  # noqa: F401
from ragwort.designs.catalogue.clusters import means, proportions  # noqa: F401
from ragwort.designs.catalogue import correlation, two_correlations  # noqa: F401
from ragwort.designs.catalogue.regression import model, coefficient, logistic  # noqa: F401
from ragwort.designs.catalogue import model_fit  # noqa: F401
from ragwort.designs.catalogue.tables import fit, contingency  # noqa: F401
from ragwort.designs.catalogue.variances import one as one_variance, two as two_variances  # noqa: F401
from ragwort.designs.catalogue.rates import one as one_rate, two as two_rates  # noqa: F401
from ragwort.designs.catalogue.survival import two_arms  # noqa: F401
from ragwort.designs.catalogue.precision import means as precision_mean, two_means as precision_two  # noqa: F401
from ragwort.designs.catalogue.precision import proportion, two_proportions  # noqa: F401
from ragwort.designs.catalogue.ranks import sum as rank_sum, signed  # noqa: F401
