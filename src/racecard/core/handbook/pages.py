"""The pages of the handbook, in the order they are shown."""

from racecard.core.handbook.entries import (
    BA,
    BB,
    BL,
    COMMON,
    COMPUTED,
    DK,
    HK,
    HM,
    ISTA,
    MD,
    Fact,
    Page,
    Sure,
    Table,
)

_HORMONES = Page(
    "hormones", "Rooting hormones", "Strengths, contact, what a hormone can and cannot do.",
    (
        Table(
            "Usual strengths of IBA by material (the typical strength in brackets)",
            ("material", "quick dip, ppm", "talc, %", "long soak, ppm"),
            (
                ("herbaceous tips", "0 to 1000 (500)", "0 to 0.1", "5 to 20"),
                ("softwood", "500 to 1500 (1000)", "0.1 to 0.3", "10 to 50"),
                ("semi-ripe", "1000 to 4000 (2500)", "0.3 to 0.8", "20 to 100"),
                ("hardwood, leafless", "1000 to 5000 (2500)", "0.3 to 0.8", "20 to 200"),
                ("evergreen hardwood, conifer", "3000 to 10,000 (5000)", "0.8 to 3.0", "50 to 200"),
                ("leaf-bud or single node", "as the wood stage; 500 to 3000 (1000)", "0.1 to 0.8", "not usual"),
                ("leaf with its stalk", "0 to 500 (0)", "0 to 0.1", "not usual"),
                ("root cuttings", "none: it holds back the buds that are wanted", "0", "none"),
            ),
            f"{HK}; {MD}", Sure.HIGH,
        ),
    ),
    (
        Fact("Quick dip 1 to 5 seconds, up to 10 in a potassium salt in water; long soak 12 to 24 hours out of the sun at about 20 °C; dip 1 to 2.5 cm deep, the same for all.", f"{HK}; {BL}"),
        Fact("Rooting rises with the dose, peaks, then falls with injury at the base. Test doses in equal ratios (a quarter, half, one, two, four times the usual), not in equal steps.", f"{HK}; {DK}"),
        Fact("The same number in talc and in a dip is not the same treatment: talc usually acts weaker, and varies with how wet the base is.", f"{HK}; {BL}"),
        Fact("The potassium salt weighs more than the acid: 1000 mg/L of K-IBA is 842 mg/L of IBA, 1000 mg/L of K-NAA is 830 mg/L of NAA.", COMPUTED),
        Fact("Free acids hardly dissolve in plain water: IBA about 0.25 g/L, NAA about 0.42 g/L, IAA about 1.5 g/L at 20 °C. More needs alcohol, alkali or the salt.", "handbook values", Sure.MEDIUM),
        Fact("Alcohol above about 50 % burns the base by itself, on soft tissue already at 50 %. That is why the alcohol alone is a control.", f"{HK}; {BL}"),
        Fact("Two controls separate hormone from carrier: untreated, and the same liquid, powder or soak without the active. Hormone effect is treated less carrier.", COMMON),
        Fact("From opening: dry crystals cold and dark 2 to 3 years; IBA in 50 % alcohol cold and dark 6 to 12 months; K-IBA in water at most 2 to 4 weeks; a working dip that day; talc 1 to 2 years.", COMMON, Sure.MEDIUM),
        Fact("Signs of too much: a dead rim that climbs above the dip line, a swollen splitting base, much callus and few roots, roots only in a ring above the treated zone; curled petioles, shut buds.", HK),
        Fact("A hormone does not mend the wrong season, dry cuttings, a cold base, or the difference between young and old wood. Easy rooters show no gain, because the control is near 100 % already.", HK),
    ),
)  # fmt: skip

_AGENTS = Page(
    "agents", "Kitchen and other agents",
    "What is claimed and what is likely. Evidence of a gain in rooting or germination: A repeated controlled trials agree; "
    "B some, depending on species and dose; C few or mixed; D hearsay, or trials show none. A protectant can only be seen "
    "to work where controls rot.",
    (
        Table(
            "Agents, doses to try, and where harm must be expected",
            ("agent", "likely action", "dose to try", "harm expected", "evidence"),
            (
                ("honey or syrup", "keeps microbes off; no hormone", "5 to 15 mL in 250 mL boiled, cooled water", "mould; above 10 % sugar draws water", "D"),
                ("cinnamon-type powder", "slows fungi; no rooting action", "a light dust on the cut", "a thick cake dries the base; the oil burns", "D rooting, C protecting"),
                ("willow-twig extract", "rooting co-factors, some auxin; strength unknown", "100 to 200 g twigs per litre, 24 to 48 h; soak 12 to 24 h", "spoils in days; strong hot extract browns", "B to C"),
                ("salicylic acid", "signal of stress", "7 to 69 mg/L for hours", "from about 138 mg/L", "C"),
                ("acetylsalicylic acid", "the same, after it splits", "9 to 90 mg/L", "one 325 mg tablet in a litre is past it", "C to D"),
                ("aloe-type gel", "film; slight protection", "fresh, or 10 to 50 % for 1 to 12 h", "a thick film starves the base of air", "C"),
                ("vinegar, 5 %", "acid only", "1 to 5 mL/L", "100 mL/L burns soft tissue", "D"),
                ("magnesium sulphate", "nutrient", "0.5 to 2 g/L once rooted", "5 g/L on unrooted cuttings", "D for rooting"),
                ("black or green tea", "tannin and caffeine, which slow growth", "1 g leaf in 250 to 500 mL", "above 10 g/L", "D"),
                ("hydrogen peroxide", "disinfects; may break dormancy", "seed 0.3 to 1 % for minutes to hours; water 10 to 33 mL of 3 % per litre", "3 % for hours on soft tissue", "C, B for some dormant seed"),
                ("bleach", "disinfects", "seed 0.5 to 1 % for 1 to 10 min, then rinse", "above 1 to 2 % or 15 min", "D, A as disinfectant"),
                ("seaweed extract", "mild stimulant", "2 to 10 mL/L, 1 to 18 h", "50 mL/L: salts, rot", "B to C"),
                ("coconut water", "cytokinins, sugars", "5 to 15 %", "cytokinin holds roots back; sugar rots", "C to D"),
                ("mycorrhiza", "acts on living roots only", "as the label says", "little", "D for rooting, B later in poor soil"),
                ("charcoal powder", "takes up hormone", "dust", "takes up auxin, too", "D"),
                ("thiamine (vitamin B1)", "claimed tonic", "1 to 10 mg/L", "none", "D"),
                ("worm castings", "nutrients, microbes", "10 to 20 % of the medium", "40 to 60 %: salts, waterlogging", "B at low share"),
            ),
            "reviews and trials named in each trade's literature; doses common practice", Sure.MEDIUM,
        ),
    ),
    (
        Fact("A soak is compared with plain water for the same hours, a dust with inert dust, a gel with a blank gel."),
        Fact("Two agents in one treatment cannot be separated: use each alone, both together and neither."),
        Fact("Write down what was made (grams, millilitres, hours, warmth), not the name of a recipe."),
    ),
)  # fmt: skip

_CUTTINGS = Page(
    "cuttings", "Cuttings", "Types, times, climate.",
    (
        Table(
            "Usual times by wood stage",
            ("stage", "callus or first bulge", "roots", "ready to pot"),
            (
                ("herbaceous", "5 to 10 days", "7 to 21 days", "3 to 4 weeks"),
                ("softwood", "1 to 3 weeks", "2 to 6 weeks", "4 to 8 weeks"),
                ("semi-ripe", "2 to 5 weeks", "4 to 12 weeks", "8 to 16 weeks"),
                ("hardwood, leafless", "3 to 8 weeks", "6 to 16 weeks", "next season"),
                ("evergreen hardwood, conifer", "4 to 10 weeks", "8 to 24 weeks", "6 to 12 months"),
                ("leaf-bud", "2 to 5 weeks", "4 to 10 weeks", "8 to 16 weeks"),
                ("leaf", "1 to 3 weeks", "2 to 6 weeks", "3 to 6 months"),
                ("root cuttings", "none", "shoots 3 to 10 weeks, feeding roots after", "8 to 20 weeks"),
            ),
            f"{HK}; {MD}", Sure.HIGH,
            ("herbaceous", "softwood", "semi-ripe", "hardwood", "evergreen", "leaf-bud", "leaf", "root"),
        ),
        Table(
            "Types of cutting",
            ("type", "what it is"),
            (
                ("stem tip", "top of a shoot with its growing point, 2 to 4 nodes, 5 to 10 cm"),
                ("nodal", "cut 2 to 5 mm below a node, 2 to 4 nodes, 5 to 15 cm"),
                ("internodal", "cut between nodes; easy rooters, saves wood; 3 to 8 cm"),
                ("heel", "side shoot pulled with a sliver of older wood; 5 to 12 cm"),
                ("mallet", "shoot with 1 to 2.5 cm of older stem across its base"),
                ("leaf-bud", "one leaf, its bud, 2 to 4 cm of stem below"),
                ("single node", "one node with its bud; vine eyes 3 to 5 cm"),
                ("softwood", "new growth that snaps, late spring to midsummer"),
                ("semi-ripe", "base firm, tip soft, midsummer to autumn"),
                ("hardwood", "leafless, dormant, one year old, pencil thick, 15 to 25 cm"),
                ("root", "pencil thick, 5 to 10 cm, in dormancy, crown end up"),
                ("leaf", "whole leaf with its stalk, or sections the same way up"),
            ),
            f"{HK}; {MD}; lengths common practice", Sure.HIGH,
        ),
    ),
    (
        Fact("Base 18 to 25 °C, 2 to 6 °C warmer than the air; above 30 °C the base rots. Hardwood in bundles: base 15 to 20 °C, tops 4 to 8 °C.", f"{HK}; {MD}"),
        Fact("Humidity at the leaf 90 to 100 % until roots form, then down in three or four steps over 7 to 14 days.", COMMON),
        Fact("Callus is wound tissue and no root; new leaves before roots are reserves spent; resisting a tug comes late. None of them counts as rooted.", HK),
        Fact("Wounding is for hard-to-root semi-ripe and hardwood cuttings. All treatments get it, unless it is what is tested.", HK),
        Fact("Wipe tools with 70 % alcohol between stock plants; against viruses use 0.5 % hypochlorite, then rinse.", HK),
        Fact("Willow, poplar, currant and others carry ready root initials: poor subjects for a hormone trial.", HK),
    ),
)  # fmt: skip

_SEED = Page(
    "seed", "Seed", "Soaking, dormancy, warmth, testing.",
    (
        Table(
            "Days to come up at a steady soil temperature, seed 1.3 cm deep",
            ("crop", "10 °C", "15 °C", "20 °C", "25 °C", "30 °C"),
            (
                ("beet", "16.7", "9.7", "6.2", "5.0", "4.5"), ("cabbage", "14.6", "8.7", "5.8", "4.5", "3.5"),
                ("carrot", "17.3", "10.1", "6.9", "6.2", "6.0"), ("celery", "16.0", "12.0", "7.0", "none", "none"),
                ("cucumber", "none", "13.0", "6.2", "4.0", "3.1"), ("lettuce", "7.0", "3.9", "2.6", "2.2", "2.6"),
                ("onion", "13.4", "7.1", "4.6", "3.6", "3.9"), ("parsley", "29.0", "17.0", "14.0", "13.0", "12.3"),
                ("parsnip", "26.6", "19.3", "13.6", "14.9", "31.6"), ("pea", "13.5", "9.4", "7.5", "6.2", "5.9"),
                ("radish", "11.2", "6.3", "4.2", "3.5", "3.0"), ("spinach", "11.7", "6.9", "5.7", "5.1", "6.4"),
                ("turnip", "5.2", "3.0", "1.9", "1.4", "1.1"),
            ),
            HM, Sure.MEDIUM,
        ),
    ),
    (
        Fact("Soak at 18 to 22 °C: 2 to 4 h small or thin-coated seed, 6 to 12 h pea and bean (at best under 8), 12 to 24 h beet, parsley, okra and sweet pea.", COMMON, Sure.MEDIUM),
        Fact("Too long a soak starves the seed of air: large legumes suffer from 12 to 24 hours on; above 24 h change the water.", f"Kidd & West (1918), Ann. Appl. Biol. 5, 1-10; {BB}"),
        Fact("Drying back after a soak is safe only before the root tip shows.", BB),
        Fact("Nicking helps only where the coat keeps water out. Test: weigh, soak 24 h, weigh again; under 10 to 20 % gain the seed is hard.", BA),
        Fact("Cold stratification counts only the days that are both moist and cold, 1 to 5 °C; herbaceous perennials 21 to 60 days, apple-type 60 to 90. Its control is the same time moist and warm.", f"{BA}; {HK}"),
        Fact("Gibberellic acid 100 to 1000 mg/L for 12 to 24 h; potassium nitrate 0.2 % (2 g/L).", ISTA),
        Fact("Lettuce above 28 to 30 °C, celery above 25 °C and spinach above 25 to 30 °C stay dormant: cool them 16 to 24 h.", BB),
        Fact("The germination on a label is a laboratory's, under the best conditions on the day of the test; in a tray fewer come up.", ISTA),
        Fact("A home test of 20 seeds with 17 up fits any rate from 64 to 95 %.", COMPUTED),
        Fact("Fresh or hard seed that has not germinated is not dead.", ISTA),
    ),
)  # fmt: skip

_MEDIA = Page(
    "media", "Media, pots and measures", "Volumes, weights, spoons.",
    (
        Table(
            "Spoons and cups, mL",
            ("measure", "metric", "US", "Australia"),
            (
                ("teaspoon", "5", "4.93", "5"), ("tablespoon", "15", "14.79", "20"), ("cup", "250", "236.6", "250"),
                ("fluid ounce", "none", "29.57", "none"), ("gallon", "none", "3785", "none"),
            ),
            "exact definitions", Sure.HIGH,
        ),
        Table(
            "Loose weight as used, kg per litre",
            ("medium", "kg/L"),
            (
                ("sphagnum peat", "0.08 to 0.12"), ("coir", "0.06 to 0.10"), ("perlite", "0.09 to 0.13"),
                ("vermiculite", "0.08 to 0.16"), ("pine bark fines", "0.20 to 0.30"), ("pumice", "0.45 to 0.70"),
                ("sand or grit", "1.4 to 1.6"), ("loam", "1.0 to 1.3"), ("compost, moist", "0.45 to 0.65"),
            ),
            COMMON, Sure.MEDIUM,
        ),
    ),
    (
        Fact("A round pot is a frustum: a cylinder of its top width overstates a 9 cm pot by a third.", COMPUTED),
        Fact("Mixing shrinks: the fine fills the pores of the coarse, 5 to 20 %. Measure each part loose and moist in the same vessel.", COMMON, Sure.MEDIUM),
        Fact("A medium for cuttings holds 20 to 30 % air in the pot it is used in; seed plugs 10 to 20 %.", HK, Sure.MEDIUM),
        Fact("A spoon of powder is a volume and no weight: weigh it.", COMMON),
        Fact("Drops are 0.03 to 0.06 mL for water, about half that for alcohol: count your own dropper's.", COMMON),
        Fact("A tablespoon per litre is 15 mL/L; measured as 0.75 mL in 250 mL it is five times too weak.", COMPUTED),
    ),
)  # fmt: skip

_GROWTH = Page(
    "growth", "Measuring growth", "The same rule for every plant.",
    (),
    (
        Fact("Height from the surface (or the seed-leaf node: say which) to the growing point, not to a leaf tip.", COMMON),
        Fact("Stem diameter 10 mm above the surface, twice at right angles; on cuttings 20 mm, above the swollen base.", COMMON),
        Fact("Leaves are true leaves whose blade is 10 mm or unfolded.", COMMON),
        Fact("Relative growth rate is (ln W2 - ln W1) / (t2 - t1) of dry weights; for groups the mean of ln W, not ln of the mean.", "Blackman (1919), Ann. Bot. 33, 353-360"),
        Fact("Dickson quality index is total dry weight, g, over height, cm, by diameter, mm, plus shoot over root weight.", "Dickson, Leaf & Hosner (1960), For. Chron. 36, 10-13"),
        Fact("Photos: same distance, a scale and the label in the frame, a plain dark cloth behind roots.", COMMON),
    ),
)  # fmt: skip

_SAYINGS = Page(
    "sayings", "What spoils a trial most often", "And sayings that mislead.",
    (),
    (
        Fact("One pot, tray or dish per treatment: then the container is what was repeated, once, not the plants in it."),
        Fact("The finest cuttings dealt to the favourite; a row of the tray per treatment; the favourite on the warm side."),
        Fact("“Callused”, “in leaf” or “resists a tug” scored as rooted.", HK),
        Fact("The dead left out of the count, or a plant removed for a look counted as dead."),
        Fact("Dormant or hard seed counted as dead.", ISTA),
        Fact("“Talc 0.3 % and a dip of 3000 ppm are the same”: the same number, not the same treatment.", f"{HK}; {BL}"),
        Fact("“22 of 40 against 30 of 40 proves it”: a good bet, and by chance alone a difference as large comes once in ten trials.", COMPUTED),
        Fact("Too few: telling 55 % from 75 % takes about 98 of each.", COMPUTED),
        Fact("The degree-day average returns nothing where only the afternoon is warm enough: use the sine.", COMPUTED),
    ),
)  # fmt: skip

PAGES = (_HORMONES, _AGENTS, _CUTTINGS, _SEED, _MEDIA, _GROWTH, _SAYINGS)
