"""Every number the mixing bench takes for granted: its value, where it comes from, how to change it.

HAND: handbooks of plant propagation (Hartmann and Kester's Plant Propagation; Dirr and Heuser's
Reference Manual of Woody Plant Propagation; Macdonald's Practical Woody Plant Propagation), cited
from memory. COMMON: common practice.
"""

from dataclasses import dataclass

HAND = "handbooks of plant propagation (Hartmann and Kester; Dirr and Heuser; Macdonald), recalled"
REVIEW = "Blythe and others 2007, J. Environ. Hort. 25:166–185, recalled"
COMMON = "common practice"
LABS = "International Rules for Seed Testing (ISTA), recalled"


@dataclass(frozen=True, slots=True)
class Default:
    """One number: what it is, its unit, its source, and the room it belongs to."""

    key: str
    value: float
    unit: str
    says: str
    source: str


STAGES = {
    "herbaceous": "herbaceous tip",
    "softwood": "softwood",
    "semi_ripe": "semi-ripe",
    "hardwood_deciduous": "hardwood, deciduous",
    "hardwood_evergreen": "hardwood, evergreen or conifer",
    "leaf_bud": "leaf-bud or single node",
    "leaf": "leaf",
    "root": "root",
}
"""Wood stages the ranges go by."""
_DIP: dict[str, tuple[float, ...]] = {
    "herbaceous": (0, 1000, 500), "softwood": (500, 1500, 1000), "semi_ripe": (1000, 4000, 2500),
    "hardwood_deciduous": (1000, 5000, 2500), "hardwood_evergreen": (3000, 10000, 5000),
    "leaf_bud": (500, 3000, 1000), "leaf": (0, 500, 0), "root": (0, 0, 0),
}  # fmt: skip
_TALC: dict[str, tuple[float, ...]] = {
    "herbaceous": (0, 0.1), "softwood": (0.1, 0.3), "semi_ripe": (0.3, 0.8),
    "hardwood_deciduous": (0.3, 0.8), "hardwood_evergreen": (0.8, 3.0), "leaf_bud": (0.1, 0.8),
    "leaf": (0, 0.1), "root": (0, 0),
}  # fmt: skip
_SOAK: dict[str, tuple[float, ...]] = {
    "herbaceous": (5, 20), "softwood": (10, 50), "semi_ripe": (20, 100),
    "hardwood_deciduous": (20, 200), "hardwood_evergreen": (50, 200), "root": (0, 0),
}  # fmt: skip


def _ranges() -> list[Default]:
    out = []
    for stage, numbers in _DIP.items():
        for part, value in zip(("low", "high", "usual"), numbers, strict=True):
            says = f"quick-dip, {STAGES[stage]}, {part}"
            out.append(Default(f"dip_{stage}_{part}", value, "ppm IBA", says, HAND))
    for name, unit, table in (("talc", "% IBA", _TALC), ("soak", "ppm IBA", _SOAK)):
        for stage, numbers in table.items():
            for part, value in zip(("low", "high"), numbers, strict=True):
                says = f"{name}, {STAGES[stage]}, {part}"
                out.append(Default(f"{name}_{stage}_{part}", value, unit, says, HAND))
    return out


_OTHERS = (
    Default("dip_warn", 10_000, "ppm", "a quick-dip above this is warned of", REVIEW),
    Default("dip_refuse", 20_000, "ppm", "a quick-dip above this is refused", REVIEW),
    Default("soak_warn", 200, "ppm", "a long soak above this is warned of", HAND),
    Default("herbaceous_warn", 1500, "ppm", "a dip for herbaceous tips above this is warned of", HAND),
    Default("dip_seconds", 5, "s", "a quick-dip", HAND),
    Default("dip_seconds_most", 10, "s", "a quick-dip, at most", REVIEW),
    Default("soak_hours", 24, "h", "a long soak", HAND),
    Default("alcohol_most", 50, "% v/v", "alcohol in the dip above this burns by itself", REVIEW),
    Default("density_half_alcohol", 0.93, "kg/L", "density of half alcohol, half water", COMMON),
    Default("readability_times", 20, "×", "least weight as so many times what the scale shows", COMMON),
    Default("scale", 0.01, "g", "the smallest step of your scale", COMMON),
    Default("dose_within", 10, "%", "a dose this far off is warned of", COMMON),
    Default("spare_medium", 10, "%", "overage of medium", COMMON),
    Default("spare_solution", 15, "%", "overage of a solution", COMMON),
    Default("shrink", 10, "%", "what a mixture of media loses in volume", COMMON),
    Default("fill", 90, "%", "how full a pot is filled, of the brim", COMMON),
    Default("medium_warm", 30, "°C", "medium warmer than this harms bases", HAND),
    Default("vpd_unrooted", 0.5, "kPa", "air drier than this is hard on unrooted cuttings", COMMON),
    Default("soak_seed_warn", 24, "h", "a seed soak longer than this is warned of", COMMON),
    Default("soak_legume_warn", 12, "h", "a soak of large legumes longer than this is warned of", COMMON),
    Default("soak_legume_refuse", 48, "h", "a soak of large legumes longer than this is refused", COMMON),
    Default("nitrate_warn", 1, "%", "potassium nitrate above this harms seed", LABS),
    Default("ga3_warn", 1000, "mg/L", "gibberellin above this draws pale, stretched seedlings", LABS),
    Default("label_months", 12, "months", "a label germination older than this wants a retest", COMMON),
    Default("keeps_crystal", 730, "days", "dry crystals, cold and dark, keep", COMMON),
    Default("keeps_alcohol", 180, "days", "IBA in half alcohol, cold and dark, keeps",
            "Robbins and others 1988, J. Environ. Hort. 6:33–38, recalled"),
    Default("keeps_water", 14, "days", "a potassium salt in water, cold and dark, keeps", COMMON),
    Default("keeps_talc", 365, "days", "talc, closed, keeps", COMMON),
    Default("keeps_iaa", 2, "days", "a solution of IAA keeps",
            "Nissen and Sutter 1990, HortScience 25:800–802, recalled"),
    Default("keeps_ga3", 3, "days", "a solution of gibberellin, cold, keeps", COMMON),
    Default("keeps_dip", 1, "days", "a working dip keeps", COMMON),
)  # fmt: skip
DEFAULTS = {d.key: d for d in (*_OTHERS, *_ranges())}
"""Every default by key."""
