"""What comes along when faces are reshaped: fillets always, chamfers by a switch on the line that shows where there are
any beside the picked faces."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..local.chamfers import chamfers_beside
from ..local.engine import Reshaped
from ..model.references import Reference
from .work import Fact, Work

STAYS = ("chamfer stays, since it could not follow", "chamfers stay, since they could not follow")


def no_chamfers(work: Work, picked: Sequence[Reference]) -> frozenset[str]:
    """The field's name, for a pick beside which there are none."""
    for ident in picked:
        kind = ident.kind
        body, index = ident.owner
        if kind == "face" and body.kind == "solid" and chamfers_beside(work.geometry.solid(body.shape).topology, index):
            return frozenset()
    return frozenset({"chamfers"})


@dataclass(frozen=True)
class Followed:
    """How many came along; stayed: chamfers that should have but could not."""

    fillets: int = 0
    chamfers: int = 0
    stayed: int = 0

    @classmethod
    def of(cls, result: Reshaped) -> Followed:
        return cls(len(result.followed), len(result.chamfers), len(result.stayed))

    def __add__(self, other: Followed) -> Followed:
        return Followed(self.fillets + other.fillets, self.chamfers + other.chamfers, self.stayed + other.stayed)

    @property
    def facts(self) -> tuple[Fact, ...]:
        rows = (
            ("follow", self.fillets, "round follows", "rounds follow", "plain"),
            ("chamfers_follow", self.chamfers, "chamfer follows", "chamfers follow", "plain"),
            ("chamfers_stay", self.stayed, *STAYS, "warning"),
        )
        return tuple(
            Fact(code, many, float(count), "count", tone, one) for code, count, one, many, tone in rows if count
        )
