"""Numbers of the build sheet: how much of a link's weakest part is used."""

from even_stance.judgement.standards.standard import Standard

_MARKS = (None, 80.0)

STANDARDS = (
    Standard(
        "link_used_pct", "Weakest link",
        reason="A link that bends or a bolt that shears lets the axle go its own way.",
        marks=dict.fromkeys(("street_cruiser", "street_performance", "drag", "trail", "desert"), _MARKS),
        formula="Load of the worst case and posture over the load at which the part yields, or its typed rating.",
        source="Johnson and Euler columns, bending with amplification, shear yield of bolts, edges and welds (Shigley; "
        "AISC; from memory); cases of the load sheet",
        inside="Its weakest part is used no more than wanted.",
        high="Its weakest part is used more than wanted.",
        solvable=False,
    ),
)  # fmt: skip
