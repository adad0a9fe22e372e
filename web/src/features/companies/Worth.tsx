// What it is worth: price and value over time, the grid that opens year by year, and what one assumes oneself.
import type { Schemas } from "../../api/client";
import { useDraft } from "../../headless/draft";
import { Assume } from "./Assume";
import { MultipleRange } from "./MultipleRange";
import { PriceValueChart } from "./PriceValueChart";
import { ValueGrid } from "./ValueGrid";

export function Worth({ page }: { page: Schemas["CompanyPage"] }) {
  const [draft, change] = useDraft(`assume:${page.company.symbol}`, page.value.own);
  return (
    <>
      <PriceValueChart months={page.months} />
      <ValueGrid value={page.value} own={page.value.own} />
      {page.value.models.length > 0 && <Assume value={page.value} draft={draft} change={change} />}
      <MultipleRange value={page.value} />
    </>
  );
}
