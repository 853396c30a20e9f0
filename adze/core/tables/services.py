"""How long a fence is to stand, and what it is made of for that: conductor, posts, rods."""

from dataclasses import dataclass


@dataclass(frozen=True)
class ServiceLife:
    """One length of service: its words, the years that its parts must last, and what is taken for it by default."""

    label: str
    least_years: float
    conductor: str
    post: str
    post_spacing_m: float
    rod_m: float
    words: str


SERVICE_LIVES = {
    "strip": ServiceLife(
        "moved every few days", 1.0, "poly_steel_9", "plastic", 8.0, 1.0,
        "light line on a reel, posts that are trodden in, short rods that are pulled out again",
    ),
    "season": ServiceLife(
        "a season, then taken in", 3.0, "rope_steel", "fibreglass", 7.0, 1.5,
        "rope that is seen, posts that carry it without insulators, rods that come out",
    ),
    "years": ServiceLife(
        "years in one place", 10.0, "steel_25", "timber", 6.0, 2.0,
        "high-tensile steel on posts that stay, galvanised rods in full length",
    ),
}  # fmt: skip
