// What it is worth: price and value over time, the grid that opens year by year, and what one assumes oneself.
import { useEffect, useState } from "react";
import type { Own, Schemas } from "../../api/client";
import { Assume } from "./Assume";
import { MultipleRange } from "./MultipleRange";
import { PriceValueChart } from "./PriceValueChart";
import { ValueGrid } from "./ValueGrid";

/** What is typed survives leaving the page. */
function useDraft(symbol: string, kept: Own): [Own, (to: Own) => void] {
  const place = `assume:${symbol}`;
  const read = (): Own => {
    try {
      return JSON.parse(sessionStorage.getItem(place) ?? "null") ?? kept;
    } catch {
      return kept;
    }
  };
  const [draft, setDraft] = useState(read);
  useEffect(() => sessionStorage.setItem(place, JSON.stringify(draft)), [place, draft]);
  return [draft, setDraft];
}

export function Worth({ page }: { page: Schemas["CompanyPage"] }) {
  const [draft, change] = useDraft(page.company.symbol, page.value.own);
  return (
    <>
      <PriceValueChart months={page.months} />
      <ValueGrid value={page.value} own={page.value.own} />
      {page.value.models.length > 0 && <Assume value={page.value} draft={draft} change={change} />}
      <MultipleRange value={page.value} />
    </>
  );
}
