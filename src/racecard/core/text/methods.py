"""What stands behind each figure: what it is, when to believe it, the formula and the source."""

from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Method:
    """How a figure was made. `sum` is the formula in plain letters."""

    id: str
    name: str
    says: str
    sum: str
    source: str


_ALL = (
    Method("wilson", "95 % interval for one share",
           "The share that rooted or came up, with a 95 % confidence interval: the true shares that fit "
           "this count. Intervals made this way contain the true share in about 95 of 100 trials (with 4 "
           "plants, at some rates, 87). Not for shared containers.",
           "(p + z²/2n ± z·√(p(1−p)/n + z²/4n²)) / (1 + z²/n), z = 1.96",
           "Wilson (1927), J. Am. Stat. Assoc. 22, 209–212"),
    Method("wilson_containers", "95 % interval for shares in containers",
           "Plants in one container resemble each other, so they count as fewer. The number is "
           "reduced by how alike they were in this trial; the centre is the mean of container "
           "shares. Trust it from about four containers per treatment.",
           "n / (1 + (m′ − 1)·ρ), t in place of z with containers − treatments degrees of freedom",
           "Kish (1965); Fleiss (1981); Wilson (1927)"),
    Method("newcombe", "95 % interval for a difference",
           "The difference between two shares, in points, with the true differences that fit these "
           "results. Built from each share's own interval. For single plants without blocks. With 4 "
           "to 8 plants it may contain the truth only 87 times in 100.",
           "d − √((p₁−l₁)² + (u₀−p₀)²) to d + √((u₁−p₁)² + (p₀−l₀)²)",
           "Newcombe (1998), Stat. Med. 17, 873–890, method 10"),
    Method("newcombe_paired", "95 % interval for pairs",
           "The difference between the partners of a pair, in points. It uses how alike partners "
           "are. For pairs of single plants. It covers this one comparison and is not corrected for "
           "others.",
           "as Newcombe's interval, less 2·φ times the product of the two margins",
           "Newcombe (1998), Stat. Med. 17, 2635–2650, method 10"),
    Method("stratified_score", "95 % interval within blocks",
           "The difference is taken inside each block, then averaged, so that a good block cannot "
           "pass for a good treatment. The interval holds every difference that the score test would "
           "not reject. For single plants in blocks or runs.",
           "Σ w·(p₁−p₀) / Σ w, w = n₁n₀/N in each block; variances restricted to the difference "
           "under test",
           "Miettinen & Nurminen (1985), Stat. Med. 4, 213–226"),
    Method("newcombe_containers", "95 % interval for a difference, containers",
           "The difference between the mean shares of two sets of containers. Plants in one "
           "container resemble each other, so numbers are reduced accordingly. Needs two or more "
           "containers per treatment; with exactly two it is very rough.",
           "Newcombe's interval on n / (1 + (m′ − 1)·ρ) with t in place of z",
           "Newcombe (1998); Kish (1965); Fleiss (1981)"),
    Method("container_blocks", "95 % interval, containers in blocks",
           "The difference between mean container shares is taken inside each block, then averaged. "
           "Its width comes from how containers of one treatment in one block vary. It is never "
           "narrower than if every plant stood alone.",
           "difference ± t·s·√(Σ w²(1/n₁ + 1/n₀)) / Σ w",
           "Student (1908); Miettinen & Nurminen (1985) for the least width"),
    Method("lot", "Permutation test",
           "If the treatment did nothing, the same plants would have succeeded whichever label they "
           "got. The test reassigns labels in every way the randomisation allowed. p is how often a "
           "difference at least this large appears, in either direction. Valid only if positions "
           "were randomised.",
           "p = 2 × the smaller tail, at most 1; labels reassigned inside their blocks",
           "Fisher (1935); Fay (2010), Biostatistics 11, 373–374"),
    Method("floor", "Smallest possible p",
           "Even if all succeeded in one treatment and none in the other, chance alone would produce "
           "that sometimes. This is how often. At 0.05 or more, no result of this trial could be "
           "clear: set more units.",
           "2 ÷ the number of different assignments, corrected for the number of candidates by Holm",
           "Counting; Holm (1979), Scand. J. Stat. 6, 65–70"),
    Method("holm", "Holm correction",
           "Compare eight treatments and one may look good by chance. Holm's method makes the best "
           "result pass the strictest limit, the next a slightly easier one, and so on. All "
           "comparisons together then give a false alarm in at most 5 of 100 trials.",
           "smallest p × k, next × (k − 1), … never falling",
           "Holm (1979), Scand. J. Stat. 6, 65–70"),
    Method("curve", "Curve of first sightings",
           "A plant first seen rooted, or up, got there some time since the look before. The curve is "
           "the most likely share of all plants that were there by each day, given those spans. "
           "Removed plants count up to their last look; lost plants never get there.",
           "self-consistent estimate over the spans (last look without, first look with]",
           "Turnbull (1976), J. R. Stat. Soc. B 38, 290–295"),
    Method("half", "Half by day",
           "The first look by which half of all plants had rooted or come up; lost ones count as never. "
           "The true day lies between that look and the one before. Believe it no more finely than "
           "your looks are apart.",
           "first day at which the curve is 50 % or more",
           "Turnbull (1976), J. R. Stat. Soc. B 38, 290–295"),
    Method("over_time", "Permutation test over time",
           "Each plant gets a score for whether and how soon it rooted or came up; labels are then "
           "reassigned at random. It mostly reflects how many did. “Sooner” is said only if final "
           "shares are alike, or those that did were also earlier.",
           "(S_R·H_R − S_L·H_L) / (S_L − S_R), averaged in each unit",
           "Sun (1996), Stat. Med. 15, 1387–1395; Fay & Shaw (2010), J. Stat. Softw. 36(2)"),
    Method("quality", "Root score, all plants",
           "Roots are scored 0 to 5 at the end; lost or rootless plants score 0. Ranks of scores are "
           "compared by reassigning labels. The figure is how often a random treated plant beats a "
           "random control, ties counting half.",
           "share of pairs in which the treated one scores higher, plus half the ties",
           "Hodges & Lehmann (1962), Ann. Math. Stat. 33, 482–497; Mann & Whitney (1947)"),
    Method("placings", "Placings",
           "Every pair of treatments is compared by permutation test, corrected for the number of "
           "pairs. Treatments sharing a letter do not differ detectably; that does not show they are "
           "equal. Equal shares are a dead heat.",
           "permutation test of each pair; Holm over all pairs; letters by insertion and absorption",
           "Holm (1979), Scand. J. Stat. 6, 65–70; Piepho (2004), J. Comput. Graph. Stat. 13, "
           "456–466"),
    Method("waiting", "Mean waiting days",
           "Each plant waits until the look at which it was first seen rooted, or up; those that never "
           "were wait to the last day. Unlike the mean day of those that succeeded, it cannot look "
           "fast by losing the slow ones.",
           "difference ± t·s·√(Σ w²(1/n₁ + 1/n₀)) / Σ w",
           "Student (1908), Biometrika 6, 1–25; common practice for the end as the wait of those "
           "that never did"),
    Method("interaction", "Interaction of two factors",
           "The effect of one factor at one level of the other, minus its effect at the other level, "
           "in points. p is approximate. If the interval excludes 0, read each level separately. A "
           "small trial sees only large interactions.",
           "(p₁₁ − p₁₀) − (p₀₁ − p₀₀) ± t·s·√Σ(1/n)",
           "Yates (1937); McCullagh & Nelder (1989) for the view on the scale of odds"),
    Method("ladder", "Trend over doses",
           "Hormone effects often rise and then fall, so several shapes are tried: a line, plateaus "
           "and peaks. Labels are reassigned inside blocks; p is how often the best-fitting shape is "
           "at least as strong. It says nothing beyond the doses tried.",
           "largest of the standardised contrasts; 20,000 reassignments, (1 + hits) / (1 + "
           "reassignments)",
           "Abelson & Tukey (1963), Ann. Math. Stat. 34, 1347–1369; Mack & Wolfe (1981)"),
    Method("runs", "Several runs combined",
           "The difference is taken inside each run, then averaged, so that a good season cannot "
           "pass for a good treatment. From three runs a wider interval covers further runs like "
           "these; from five it covers the next single run.",
           "Q = Σ w(g − ḡ)²; Hartung–Knapp range with its factor not below 1",
           "Cochran (1954); Paule & Mandel (1982); Hartung & Knapp (2001); Röver et al. (2015)"),
    Method("measure", "Measurements",
           "Plants measured at the same age are compared: labels are reassigned at random, and p is "
           "how often the difference in means is at least this large. Only measured plants count. A "
           "secondary result, at most “likely”.",
           "difference in means ± t·s·√(Σ w²(1/n₁ + 1/n₀)) / Σ w; p from the reassignments",
           "Pitman (1937), J. R. Stat. Soc. Suppl. 4, 119–130; Student (1908)"),
    Method("higher", "Chance that the true rate is higher",
           "Before the trial, any true rates were considered possible. Given these results, this is "
           "the chance that the treatment's true rate is above the control's. It accompanies the "
           "verdict and never decides it.",
           "P(p₁ > p₀), p ~ Beta(struck + ½, not struck + ½)",
           "Jeffreys (1946), Proc. R. Soc. A 186, 453–461"),
    Method("power", "What this plan can show",
           "Every possible outcome is weighted by its chance (or many are simulated) and put through "
           "the same test as the results. The figure is how often that true rate would be called "
           "clear. It is only as good as the rates you entered.",
           "Σ chance of outcome × (1 if the results would call it clear)",
           "Enumeration; Fay (2010) for the two-sided rule; Holm (1979)"),
    Method("settle", "What would settle it",
           "Plants per treatment for a clear result in 8 of 10 trials, if the true difference is the "
           "one named. Plan for the smallest difference that matters: differences seen in small "
           "trials are often too large.",
           "n = ¼·n₀·(1 + √(1 + 4/(n₀·d)))², n₀ from the normal formula",
           "Casagrande, Pike & Smith (1978), Biometrics 34, 483–486"),
)  # fmt: skip

METHODS = {m.id: m for m in _ALL}
"""Every method by its id, as named in intervals and figures."""
