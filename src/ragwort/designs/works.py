"""The works that formulas and tests come from, each once: how a text cites it, how a list of references has it."""

from __future__ import annotations

from dataclasses import dataclass, replace

from ragwort.base.wording import capital


@dataclass(frozen=True)
class Work:
    """A book or a paper; `place` is the part of it that is meant: `chapter 31`."""

    cited: str  # authors and year: `Welch 1947`
    text: str  # as a list of references has it
    place: str = ""

    def at(self, place: str) -> Work:
        """The part of it that is meant."""
        return replace(self, place=place)

    @property
    def words(self) -> str:
        """As running text cites it: `Cohen 1988, chapter 2`."""
        return f"{self.cited}, {self.place}" if self.place else self.cited

    @property
    def full(self) -> str:
        """As a list of references has it, with the part that is meant."""
        return f"{self.text} {capital(self.place)}." if self.place else self.text


def cited(works: tuple[Work, ...]) -> str:
    """`(Cohen 1988, chapter 2; Welch 1947)`; empty where there are none."""
    return f"({'; '.join(work.words for work in works)})" if works else ""


def works_in(text: str) -> list[Work]:
    """The works that a text cites, in the order of a list of references."""
    return [work for work in WORKS if work.cited in text]


ARMITAGE = Work(
    "Armitage 1955", "Armitage P. Tests for linear trends in proportions and frequencies. Biometrics 1955; 11: 375-386."
)
ARMITAGE_BERRY = Work(
    "Armitage, Berry & Matthews 2002",
    "Armitage P, Berry G, Matthews JNS. Statistical Methods in Medical Research. 4th ed. Oxford: Blackwell; 2002.",
)
BORM = Work(
    "Borm, Fransen & Lemmens 2007",
    "Borm GF, Fransen J, Lemmens WAJG. A simple sample size formula for analysis of covariance in randomized clinical "
    "trials. Journal of Clinical Epidemiology 2007; 60: 1234-1238.",
)
BROWN = Work(
    "Brown, Cai & DasGupta 2001",
    "Brown LD, Cai TT, DasGupta A. Interval estimation for a binomial proportion. Statistical Science 2001; 16: "
    "101-133.",
)
CLOPPER_PEARSON = Work(
    "Clopper & Pearson 1934",
    "Clopper CJ, Pearson ES. The use of confidence or fiducial limits illustrated in the case of the binomial. "
    "Biometrika 1934; 26: 404-413.",
)
COCHRAN = Work("Cochran 1977", "Cochran WG. Sampling Techniques. 3rd ed. New York: Wiley; 1977.")
COHEN = Work(
    "Cohen 1988",
    "Cohen J. Statistical Power Analysis for the Behavioral Sciences. 2nd ed. Hillsdale: Erlbaum; 1988.",
)
COHEN_COHEN = Work(
    "Cohen et al. 2003",
    "Cohen J, Cohen P, West SG, Aiken LS. Applied Multiple Regression/Correlation Analysis for the Behavioral "
    "Sciences. 3rd ed. Mahwah: Erlbaum; 2003.",
)
CONNOR = Work(
    "Connor 1987",
    "Connor RJ. Sample size for testing differences in proportions for the paired-sample design. Biometrics 1987; 43: "
    "207-211.",
)
DEMIDENKO = Work(
    "Demidenko 2007",
    "Demidenko E. Sample size determination for logistic regression revisited. Statistics in Medicine 2007; 26: "
    "3385-3397.",
)
DONNER = Work(
    "Donner & Klar 2000",
    "Donner A, Klar N. Design and Analysis of Cluster Randomization Trials in Health Research. London: Arnold; 2000.",
)
ELDRIDGE = Work(
    "Eldridge, Ashby & Kerry 2006",
    "Eldridge SM, Ashby D, Kerry S. Sample size for cluster randomized trials: effect of coefficient of variation of "
    "cluster size and analysis method. International Journal of Epidemiology 2006; 35: 1292-1300.",
)
FARRINGTON = Work(
    "Farrington & Manning 1990",
    "Farrington CP, Manning G. Test statistics and sample size formulae for comparative binomial trials with null "
    "hypothesis of non-zero risk difference or non-unity relative risk. Statistics in Medicine 1990; 9: 1447-1454.",
)
FISHER = Work(
    "Fisher 1970",
    "Fisher RA. Statistical Methods for Research Workers. 14th ed. Edinburgh: Oliver and Boyd; 1970.",
)
FLEISS = Work(
    "Fleiss, Levin & Paik 2003",
    "Fleiss JL, Levin B, Paik MC. Statistical Methods for Rates and Proportions. 3rd ed. Hoboken: Wiley; 2003.",
)
FREEDMAN = Work(
    "Freedman 1982",
    "Freedman LS. Tables of the number of patients required in clinical trials using the logrank test. Statistics in "
    "Medicine 1982; 1: 121-129.",
)
GARWOOD = Work("Garwood 1936", "Garwood F. Fiducial limits for the Poisson distribution. Biometrika 1936; 28: 437-442.")
GEISSER = Work(
    "Geisser & Greenhouse 1958",
    "Geisser S, Greenhouse SW. An extension of Box's results on the use of the F distribution in multivariate "
    "analysis. Annals of Mathematical Statistics 1958; 29: 885-891.",
)
HOCHBERG = Work(
    "Hochberg 1988",
    "Hochberg Y. A sharper Bonferroni procedure for multiple tests of significance. Biometrika 1988; 75: 800-802.",
)
HOLM = Work(
    "Holm 1979",
    "Holm S. A simple sequentially rejective multiple test procedure. Scandinavian Journal of Statistics 1979; 6: "
    "65-70.",
)
HOSMER = Work(
    "Hosmer & Lemeshow 2000",
    "Hosmer DW, Lemeshow S. Applied Logistic Regression. 2nd ed. New York: Wiley; 2000.",
)
HOTELLING = Work(
    "Hotelling 1953",
    "Hotelling H. New light on the correlation coefficient and its transforms. Journal of the Royal Statistical "
    "Society B 1953; 15: 193-232.",
)
HSIEH = Work(
    "Hsieh, Bloch & Larsen 1998",
    "Hsieh FY, Bloch DA, Larsen MD. A simple method of sample size calculation for linear and logistic regression. "
    "Statistics in Medicine 1998; 17: 1623-1634.",
)
JOHNSON_1 = Work(
    "Johnson, Kotz & Balakrishnan 1994",
    "Johnson NL, Kotz S, Balakrishnan N. Continuous Univariate Distributions, volume 1. 2nd ed. New York: Wiley; 1994.",
)
JOHNSON_2 = Work(
    "Johnson, Kotz & Balakrishnan 1995",
    "Johnson NL, Kotz S, Balakrishnan N. Continuous Univariate Distributions, volume 2. 2nd ed. New York: Wiley; 1995.",
)
JONES = Work(
    "Jones & Kenward 2014",
    "Jones B, Kenward MG. Design and Analysis of Cross-Over Trials. 3rd ed. Boca Raton: CRC Press; 2014.",
)
KUPPER_HAFNER = Work(
    "Kupper & Hafner 1989",
    "Kupper LL, Hafner KB. How appropriate are popular sample size formulas? The American Statistician 1989; 43: "
    "101-105.",
)
LACHIN = Work(
    "Lachin & Foulkes 1986",
    "Lachin JM, Foulkes MA. Evaluation of sample size and power for analyses of survival with allowance for nonuniform "
    "patient entry, losses to follow-up, noncompliance, and stratification. Biometrics 1986; 42: 507-519.",
)
LEHMANN = Work(
    "Lehmann 1998",
    "Lehmann EL. Nonparametrics: Statistical Methods Based on Ranks. Revised ed. Upper Saddle River: Prentice Hall; "
    "1998.",
)
MACCALLUM = Work(
    "MacCallum, Browne & Sugawara 1996",
    "MacCallum RC, Browne MW, Sugawara HM. Power analysis and determination of sample size for covariance structure "
    "modeling. Psychological Methods 1996; 1: 130-149.",
)
MCNEMAR = Work(
    "McNemar 1947",
    "McNemar Q. Note on the sampling error of the difference between correlated proportions or percentages. "
    "Psychometrika 1947; 12: 153-157.",
)
MIETTINEN = Work(
    "Miettinen 1968",
    "Miettinen OS. The matched pairs design in the case of all-or-none responses. Biometrics 1968; 24: 339-352.",
)
NAM = Work(
    "Nam 1987",
    "Nam JM. A simple approximation for calculating sample sizes for detecting linear trend in proportions. Biometrics "
    "1987; 43: 701-705.",
)
NEWCOMBE = Work(
    "Newcombe 1998",
    "Newcombe RG. Interval estimation for the difference between independent proportions: comparison of eleven "
    "methods. Statistics in Medicine 1998; 17: 873-890.",
)
NOETHER = Work(
    "Noether 1987",
    "Noether GE. Sample size determination for some common nonparametric tests. Journal of the American Statistical "
    "Association 1987; 82: 645-647.",
)
OHAGAN = Work(
    "O'Hagan, Stevens & Campbell 2005",
    "O'Hagan A, Stevens JW, Campbell MJ. Assurance in clinical trial design. Pharmaceutical Statistics 2005; 4: "
    "187-201.",
)
PHILLIPS = Work(
    "Phillips 1990",
    "Phillips KF. Power of the two one-sided tests procedure in bioequivalence. Journal of Pharmacokinetics and "
    "Biopharmaceutics 1990; 18: 137-144.",
)
SATTERTHWAITE = Work(
    "Satterthwaite 1946",
    "Satterthwaite FE. An approximate distribution of estimates of variance components. Biometrics Bulletin 1946; 2: "
    "110-114.",
)
SCHOENFELD = Work(
    "Schoenfeld 1981",
    "Schoenfeld D. The asymptotic properties of nonparametric tests for comparing survival distributions. Biometrika "
    "1981; 68: 316-319.",
)
SCHUIRMANN = Work(
    "Schuirmann 1987",
    "Schuirmann DJ. A comparison of the two one-sided tests procedure and the power approach for assessing the "
    "equivalence of average bioavailability. Journal of Pharmacokinetics and Biopharmaceutics 1987; 15: 657-680.",
)
SEARLE = Work("Searle 1971", "Searle SR. Linear Models. New York: Wiley; 1971.")
WELCH = Work(
    "Welch 1947",
    "Welch BL. The generalization of Student's problem when several different population variances are involved. "
    "Biometrika 1947; 34: 28-35.",
)
WIENS = Work(
    "Wiens 2003",
    "Wiens BL. A fixed sequence Bonferroni procedure for testing multiple endpoints. Pharmaceutical Statistics 2003; "
    "2: 211-215.",
)
WILSON = Work(
    "Wilson 1927",
    "Wilson EB. Probable inference, the law of succession, and statistical inference. Journal of the American "
    "Statistical Association 1927; 22: 209-212.",
)
ZHU = Work(
    "Zhu & Lakkis 2014",
    "Zhu H, Lakkis H. Sample size calculation for comparing two negative binomial rates. Statistics in Medicine 2014; "
    "33: 376-387.",
)
ARMITAGE_LOOKS = Work(
    "Armitage, McPherson & Rowe 1969",
    "Armitage P, McPherson CK, Rowe BC. Repeated significance tests on accumulating data. Journal of the Royal "
    "Statistical Society A 1969; 132: 235-244.",
)
HWANG = Work(
    "Hwang, Shih & DeCani 1990",
    "Hwang IK, Shih WJ, DeCani JS. Group sequential designs using a family of type I error probability spending "
    "functions. Statistics in Medicine 1990; 9: 1439-1445.",
)
KIM_DEMETS = Work(
    "Kim & DeMets 1987",
    "Kim K, DeMets DL. Design and analysis of group sequential tests based on the type I error spending rate function. "
    "Biometrika 1987; 74: 149-154.",
)
LAN_DEMETS = Work(
    "Lan & DeMets 1983",
    "Lan KKG, DeMets DL. Discrete sequential boundaries for clinical trials. Biometrika 1983; 70: 659-663.",
)
OBRIEN_FLEMING = Work(
    "O'Brien & Fleming 1979",
    "O'Brien PC, Fleming TR. A multiple testing procedure for clinical trials. Biometrics 1979; 35: 549-556.",
)
PAMPALLONA = Work(
    "Pampallona, Tsiatis & Kim 2001",
    "Pampallona S, Tsiatis AA, Kim K. Interim monitoring of group sequential trials using spending functions for the "
    "type I and type II error probabilities. Drug Information Journal 2001; 35: 1113-1121.",
)
POCOCK = Work(
    "Pocock 1977",
    "Pocock SJ. Group sequential methods in the design and analysis of clinical trials. Biometrika 1977; 64: 191-199.",
)
WORKS = (
    ARMITAGE,
    ARMITAGE_BERRY,
    ARMITAGE_LOOKS,
    BORM,
    BROWN,
    CLOPPER_PEARSON,
    COCHRAN,
    COHEN,
    COHEN_COHEN,
    CONNOR,
    DEMIDENKO,
    DONNER,
    ELDRIDGE,
    FARRINGTON,
    FISHER,
    FLEISS,
    FREEDMAN,
    GARWOOD,
    GEISSER,
    HOCHBERG,
    HOLM,
    HOSMER,
    HOTELLING,
    HSIEH,
    HWANG,
    JOHNSON_1,
    JOHNSON_2,
    JONES,
    KIM_DEMETS,
    KUPPER_HAFNER,
    LACHIN,
    LAN_DEMETS,
    LEHMANN,
    MACCALLUM,
    MCNEMAR,
    MIETTINEN,
    NAM,
    NEWCOMBE,
    NOETHER,
    OBRIEN_FLEMING,
    OHAGAN,
    PAMPALLONA,
    PHILLIPS,
    POCOCK,
    SATTERTHWAITE,
    SCHOENFELD,
    SCHUIRMANN,
    SEARLE,
    WELCH,
    WIENS,
    WILSON,
    ZHU,
)
NONCENTRAL_T = (COHEN.at("chapter 2"), JOHNSON_2.at("chapter 31"))  # noncentral t
NONCENTRAL_F = (COHEN.at("chapter 8"), JOHNSON_2.at("chapter 30"))  # noncentral F
NONCENTRAL_F_OF_REGRESSION = (COHEN.at("chapter 9"), JOHNSON_2.at("chapter 30"))
NONCENTRAL_CHI_SQUARE = (COHEN.at("chapter 7"), JOHNSON_2.at("chapter 29"))
EQUIVALENCE = (SCHUIRMANN, PHILLIPS)  # two one-sided t tests
