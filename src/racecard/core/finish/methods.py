"""What stands behind each figure: three sentences, the sum, and the source."""

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
    Method("wilson", "Wilson score interval",
           "The share struck of all stuck, with the range of true shares that would give such a count "
           "with some ease. It never leaves 0 to 100 %; 95 in 100 such ranges hold the true share, though with "
           "four plants it may be 87 at some rates. It is not adjusted for the number of treatments.",
           "(p + z²/2n ± z·√(p(1−p)/n + z²/4n²)) / (1 + z²/n), z = 1.96",
           "Wilson (1927), J. Am. Stat. Assoc. 22, 209–212"),
    Method("wilson_containers", "Wilson interval at the effective number",
           "Plants in one container share its luck, so they count for fewer than their number. The "
           "number is divided by the design effect, worked out from how alike plants in one container "
           "were in this trial. The mean of the containers' shares is the centre.",
           "n / (1 + (m′ − 1)·ρ), t in place of z with containers − treatments degrees of freedom",
           "Kish (1965); Fleiss (1981); Wilson (1927)"),
    Method("newcombe", "Newcombe's interval for the gap",
           "The gap in points between two shares, from the Wilson limits of each. It stays inside ±100 "
           "points; with 4 to 8 plants to a treatment it may hold the true gap only 87 times in 100 at some "
           "rates. It is a 95 % range for this one gap, not adjusted for the number of treatments.",
           "d − √((p₁−l₁)² + (u₀−p₀)²) to d + √((u₁−p₁)² + (p₀−l₀)²)",
           "Newcombe (1998), Stat. Med. 17, 873–890, method 10"),
    Method("newcombe_paired", "Newcombe's interval for pairs",
           "The gap in points between partners of the same pair. It uses how alike partners are. "
           "It is a 95 % range for this one gap, not adjusted for the number of treatments.",
           "as Newcombe's interval, less 2·φ times the product of the two margins",
           "Newcombe (1998), Stat. Med. 17, 2635–2650, method 10"),
    Method("stratified_score", "Stratified score interval for the gap",
           "The gap is taken inside each block and averaged, so that a good block cannot pass for a "
           "good treatment. The range holds every gap that the score test would not reject. It is a "
           "95 % range for this one gap, not adjusted for the number of treatments.",
           "Σ w·(p₁−p₀) / Σ w, w = n₁n₀/N in each block; variances restricted to the gap under test",
           "Miettinen & Nurminen (1985), Stat. Med. 4, 213–226"),
    Method("newcombe_containers", "Newcombe's interval at effective numbers",
           "The gap between the mean shares of two sets of containers. Plants in one container share "
           "its luck, so numbers are divided by the design effect. It is a 95 % range for this one "
           "gap, not adjusted for the number of treatments.",
           "Newcombe's interval on n / (1 + (m′ − 1)·ρ) with t in place of z",
           "Newcombe (1998); Kish (1965); Fleiss (1981)"),
    Method("container_blocks", "t interval over containers in blocks",
           "The gap is taken inside each block between mean shares of containers and averaged. Its "
           "doubt comes from how containers of one treatment in one block differ. It is never "
           "narrower than if every plant had stood alone.",
           "gap ± t·s·√(Σ w²(1/n₁ + 1/n₀)) / Σ w",
           "Student (1908); Miettinen & Nurminen (1985) for the least width"),
    Method("lot", "The lot test",
           "If the treatment did nothing, the same units would have struck whichever label the lot had "
           "dealt them. So the labels are dealt again in every way the lot could have, and p is how "
           "often a gap at least this large comes up, either way. Exact unless said to be sampled.",
           "p = 2 × the smaller tail, at most 1; units re-dealt inside their blocks",
           "Fisher (1935); Fay (2010), Biostatistics 11, 373–374"),
    Method("floor", "The floor of the lot test",
           "Even if every one struck in one treatment and none in the other, the lot alone would deal "
           "that sometimes. The floor is how often. Where it is 0.05 or more, no result could be called.",
           "2 ÷ the number of different deals, corrected for the number of candidates by Holm",
           "Counting; Holm (1979), Scand. J. Stat. 6, 65–70"),
    Method("holm", "Holm's correction",
           "Try eight things and one will look good by luck. Holm asks the strictest level of the best "
           "result, a little less of the next, and so on. The whole family then errs at most five times "
           "in a hundred.",
           "smallest p × k, next × (k − 1), … never falling",
           "Holm (1979), Scand. J. Stat. 6, 65–70"),
    Method("curve", "Curve of first sightings",
           "A plant first seen struck on one look struck some time since the look before. The curve is "
           "the share of all stuck that had struck by each day, the most likely one given those spans. "
           "A plant taken out before it struck counts until its last look; a lost one never strikes.",
           "self-consistent estimate over the spans (last look without, first look with]",
           "Turnbull (1976), J. R. Stat. Soc. B 38, 290–295"),
    Method("half", "Half struck by",
           "The first look at which half of all stuck had struck, lost ones counted as never. Where "
           "half never struck it says “not reached”. The true day lies between that look and the "
           "one before.",
           "first day at which the curve is 50 % or more",
           "Turnbull (1976), J. R. Stat. Soc. B 38, 290–295"),
    Method("over_time", "The lot test of strike over time",
           "Each plant gets a score for how soon it struck, from the curve of both treatments together. "
           "The scores are then dealt again like the labels. It is mostly a test of strike, so “sooner” "
           "is said only where the final strikes are alike.",
           "(S_R·H_R − S_L·H_L) / (S_L − S_R), averaged in each unit",
           "Sun (1996), Stat. Med. 15, 1387–1395; Fay & Shaw (2010), J. Stat. Softw. 36(2)"),
    Method("quality", "Root score, all stuck",
           "Roots are scored 0 to 5 at the lift; a plant without roots or lost counts 0. Scores are "
           "ranked after taking out the block's mean, and the ranks dealt again by lot. The figure is "
           "how often a random treated plant beats a random control, ties counting half.",
           "share of pairs in which the treated one scores higher, plus half the ties",
           "Hodges & Lehmann (1962), Ann. Math. Stat. 33, 482–497; Mann & Whitney (1947)"),
    Method("placings", "Placings",
           "Every pair of treatments is put to the lot test, and Holm asks the strictest level of the "
           "widest gap. Those that share a letter cannot be told apart; equal shares are a dead heat. "
           "First place could be any that is not told apart from the one that struck most.",
           "lot test of each pair; Holm over all pairs; letters by insertion and absorption",
           "Holm (1979), Scand. J. Stat. 6, 65–70; Piepho (2004), J. Comput. Graph. Stat. 13, 456–466"),
    Method("waiting", "Mean waiting days",
           "Each plant waits until the look at which it was first seen struck; one that never struck waits "
           "to the end. The difference of the means is taken inside blocks, with Student's range. Unlike the "
           "mean day of the struck alone, it cannot look fast by losing its slow half.",
           "gap ± t·s·√(Σ w²(1/n₁ + 1/n₀)) / Σ w",
           "Student (1908), Biometrika 6, 1–25; common practice for the end as the wait of the never-struck"),
    Method("interaction", "Do two factors work together?",
           "What one factor does at one level of the other, less what it does at the other level, in points. "
           "The range comes from how units of one kind differ, and its p is approximate. Where it leaves 0 out, "
           "read what each factor does at each level, not its average.",
           "(p₁₁ − p₁₀) − (p₀₁ − p₀₀) ± t·s·√Σ(1/n)",
           "Yates (1937); McCullagh & Nelder (1989) for the view on the scale of odds"),
    Method("ladder", "Trend along a ladder",
           "A plain trend is blind to the rise and fall that is expected of a hormone, so a line, plateaus and "
           "a peak at each step are all tried, and the best fit is kept. The labels of all steps are dealt "
           "again inside blocks, and p is how often the best fit of a deal is at least as good.",
           "largest of the standardised contrasts; 20,000 deals, (1 + hits) / (1 + deals)",
           "Abelson & Tukey (1963), Ann. Math. Stat. 34, 1347–1369; Mack & Wolfe (1981)"),
    Method("runs", "Runs together",
           "The gap is taken inside each run and averaged, so that a good season cannot pass for a good "
           "treatment. Whether runs differ is asked of their gaps, each by its doubt. From three runs on a "
           "wider range tells of further runs like these, from five of the next single one.",
           "Q = Σ w(g − ḡ)²; Hartung–Knapp range with its factor not below 1",
           "Cochran (1954); Paule & Mandel (1982); Hartung & Knapp (2001); Röver et al. (2015)"),
    Method("measure", "Measures of later growth",
           "Only plants measured at the same age are compared. The values are dealt again like the labels, "
           "and p is how often a gap in means at least this large comes up. It is secondary: never called clear.",
           "gap in means ± t·s·√(Σ w²(1/n₁ + 1/n₀)) / Σ w; p from the deals",
           "Pitman (1937), J. R. Stat. Soc. Suppl. 4, 119–130; Student (1908)"),
    Method("higher", "Chance that the true rate is higher",
           "Before the trial either true rate could have been anything. After it, each rate has a spread of "
           "likely values, and this is how often the treatment's lies above the control's. It is a companion "
           "in words and never decides the verdict.",
           "P(p₁ > p₀), p ~ Beta(struck + ½, not struck + ½)",
           "Jeffreys (1946), Proc. R. Soc. A 186, 453–461"),
    Method("power", "What this bench can show",
           "Every possible outcome is counted with its chance, and the finish's own test is asked of "
           "each. The figure is how often a candidate with that true strike would come out clear, "
           "with the correction for all candidates. Shared containers are counted at their worth.",
           "Σ chance of outcome × (1 if the finish would call it clear)",
           "Enumeration; Fay (2010) for the two-sided rule; Holm (1979)"),
    Method("settle", "What would settle it",
           "Plants needed in each treatment for a clear call four times in five, if the true gap were "
           "the one named. It is corrected for the number of candidates. Plan on the smallest gap "
           "worth having, not on the gap seen: gaps seen first shrink later.",
           "n = ¼·n₀·(1 + √(1 + 4/(n₀·d)))², n₀ from the normal formula",
           "Casagrande, Pike & Smith (1978), Biometrics 34, 483–486"),
)  # fmt: skip

METHODS = {m.id: m for m in _ALL}
"""Every method by its id, as named in intervals and figures."""
