"""How many blanks a stock sheet gives, laid in rows the same way round."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import EditError

USUAL = (2000.0, 1000.0)  # mm, of a stock sheet


@dataclass(frozen=True)
class StockUse:
    """count: blanks of one sheet; share: of its area that becomes parts; turned: whether the longer side of a blank
    lies along the shorter side of the sheet."""

    count: int
    share: float
    turned: bool


def stock_use(
    size: tuple[float, float], area: float, sheet: tuple[float, float] = USUAL, gap: float = 5.0, edge: float = 10.0
) -> StockUse:
    """size: of the rectangle around a blank; area: mm² of the flat; gap: mm between blanks; edge: mm left free all
    round.  Raises EditError for a blank that is larger than the sheet."""
    room = (max(sheet) - 2 * edge, min(sheet) - 2 * edge)

    def fits(long: float, wide: float) -> int:
        return max(int((room[0] + gap + 1e-9) // (long + gap)), 0) * max(int((room[1] + gap + 1e-9) // (wide + gap)), 0)

    along, across = fits(max(size), min(size)), fits(min(size), max(size))
    count = max(along, across)
    if not count:
        blank, whole = (f"{max(pair):.5g} × {min(pair):.5g} mm" for pair in (size, sheet))
        raise EditError(f"a blank of {blank} does not fit on a sheet of {whole}", field="sheet")
    return StockUse(count, count * area / (sheet[0] * sheet[1]), across > along)
