"""Every number that is judged, one record each: a new one is added in the file of its subject and nowhere else here."""

from even_stance.judgement.standards import links, travel
from even_stance.judgement.standards.standard import Standard

STANDARDS: dict[str, Standard] = {s.key: s for s in (*links.STANDARDS, *travel.STANDARDS)}
