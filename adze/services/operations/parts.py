"""Operations on what is bought: own prices, quotes of shops, what the shed gives."""

from typing import Annotated, ClassVar, Literal

from pydantic import Field

from adze.core.ground.edit import Refused
from adze.core.plan.changes import changed
from adze.core.plan.document import Plan
from adze.core.plan.prices import Quote, ShedTake
from adze.formats.parts.prices_csv import read_prices
from adze.services.operations.base import Done, Operation

_MOST_SHOPS = 4


class BringPrices(Operation):
    """A price list, pasted; an empty text goes back to the made-up prices. A named shop: its quote, kept beside."""

    blames: ClassVar[str] = "text"
    do: Literal["bring_prices"]
    text: Annotated[str, Field(max_length=60_000)]
    shop: Annotated[str, Field(max_length=80)] = ""

    def apply(self, plan: Plan) -> Done:
        """The plan with the prices; those of a list before stay for the parts that this one does not name."""
        if not self.text.strip():
            return Done(changed(plan, {"own_prices": ()}), "Back to the made-up prices")
        made = read_prices(self.text, plan)
        if self.shop.strip():
            return self._quoted(plan, Quote(shop=self.shop.strip(), prices=made))
        named = {row.part for row in made}
        kept = [row for row in plan.own_prices if row.part not in named]
        return Done(changed(plan, {"own_prices": (*kept, *made)}), f"Brought in {len(made)} prices")

    def _quoted(self, plan: Plan, quote: Quote) -> Done:
        kept = [row for row in plan.quotes if row.shop != quote.shop]
        if len(kept) >= _MOST_SHOPS:
            raise Refused(f"Shops: at most {_MOST_SHOPS} stand side by side. Remove one first.")
        return Done(changed(plan, {"quotes": (*kept, quote)}), f"A quote of {quote.shop}")


class DropQuote(Operation):
    """A shop's quote taken off."""

    do: Literal["drop_quote"]
    shop: str

    def apply(self, plan: Plan) -> Done:
        """The plan without it."""
        kept = [row for row in plan.quotes if row.shop != self.shop]
        return Done(changed(plan, {"quotes": kept}), f"Took the quote of {self.shop} off")


class TakeQuote(Operation):
    """A shop's quote as the prices that are paid."""

    do: Literal["take_quote"]
    shop: str

    def apply(self, plan: Plan) -> Done:
        """The plan at its prices and with its tax."""
        quote = next((row for row in plan.quotes if row.shop == self.shop), None)
        if quote is None:
            raise Refused(f"There is no quote of {self.shop} any more.")
        named = {row.part for row in quote.prices}
        kept = [row for row in plan.own_prices if row.part not in named]
        update = {"own_prices": (*kept, *quote.prices), "vat_percent": quote.vat_percent}
        return Done(changed(plan, update), f"Prices of {quote.shop}")


class TakeFromShed(Operation):
    """So much of some parts from the shed; 0 gives a part back."""

    do: Literal["take_from_shed"]
    takes: Annotated[dict[str, Annotated[float, Field(ge=0, le=1_000_000)]], Field(max_length=400)]

    def apply(self, plan: Plan) -> Done:
        """The plan with them taken instead of bought."""
        kept = [row for row in plan.from_shed if row.part not in self.takes]
        new = [ShedTake(part=part, quantity=n) for part, n in self.takes.items() if n > 0]
        words = "Took from the shed" if new else "Gave back to the shed"
        return Done(changed(plan, {"from_shed": (*kept, *new)}), words)
