"""What comes along when faces are reshaped: rounds always, chamfers by a switch on the line that shows where there are
any beside the picked faces."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from ..local.chamfers import chamfers_beside
from ..local.engine import Reshaped
from ..model.snapshot import split_id
from .base import Fact, Work
from .gaps import ChoiceGap

CHAMFERS = ChoiceGap(
    "the chamfers",
    "Whether chamfers and countersinks beside the faces go along and keep their width, or stay where they are and "
    "get narrower or wider.",
    default="following",
    options={"following": "chamfers following", "staying": "chamfers staying"},
)


STAYS = ("chamfer stays, since it could not follow", "chamfers stay, since they could not follow")


def no_chamfers(work: Work, picked: Sequence[str]) -> frozenset[str]:
    """The gap's name, for a pick beside which there are none."""
    for ident in picked:
        kind, number = split_id(ident)
        body, index = work.snapshot.owner_of(kind, number)
        if kind == "face" and body.kind == "solid" and chamfers_beside(work.geometry.solid(body.shape).fabric, index):
            return frozenset()
    return frozenset({"chamfers"})


@dataclass(frozen=True)
class Followed:
    """How many came along; stayed: chamfers that should have but could not."""

    rounds: int = 0
    chamfers: int = 0
    stayed: int = 0

    @classmethod
    def of(cls, result: Reshaped) -> Followed:
        return cls(len(result.followed), len(result.chamfers), len(result.stayed))

    def __add__(self, other: Followed) -> Followed:
        return Followed(self.rounds + other.rounds, self.chamfers + other.chamfers, self.stayed + other.stayed)

    @property
    def facts(self) -> tuple[Fact, ...]:
        rows = (
            ("follow", self.rounds, "round follows", "rounds follow", "plain"),
            ("chamfers_follow", self.chamfers, "chamfer follows", "chamfers follow", "plain"),
            ("chamfers_stay", self.stayed, *STAYS, "warning"),
        )
        return tuple(
            Fact(code, many, float(count), "count", tone, one) for code, count, one, many, tone in rows if count
        )
