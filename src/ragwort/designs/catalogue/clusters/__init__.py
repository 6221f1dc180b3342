"""Two parallel arms of whole clusters, such as wards or schools, compared on a mean or on a proportion.

Sources: Donner and Klar, *Design and Analysis of Cluster Randomization Trials in Health Research* (2000), chapter 5;
Eldridge, Ashby and Kerry, "Sample size for cluster randomized trials: effect of coefficient of variation of cluster
size and analysis method", International Journal of Epidemiology 35 (2006), pages 1292-1300 (unequal sizes).
"""
