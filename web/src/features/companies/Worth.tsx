// What it is worth: price and value over time, the grid that opens year by year, and what one assumes oneself.
import type { Schemas } from "../../api/client";
import { WhenNear } from "../../components/Answered";
import { useDraft } from "../../headless/draft";
import { Assume } from "./Assume";
import { PriceValueChart } from "./PriceValueChart";
import { ValueGrid } from "./ValueGrid";
import { Changes } from "./worth/Changes";

export function Worth({ page }: { page: Schemas["CompanyPage"] }) {
  const [draft, change] = useDraft(`assume:${page.company.symbol}`, page.value.own);
  return (
    <>
      <PriceValueChart months={page.months} />
      <ValueGrid value={page.value} own={page.value.own} />
      {page.value.models.length > 0 && <Assume value={page.value} draft={draft} change={change} />}
      <WhenNear rows={6}>
        <Changes symbol={page.company.symbol} date={page.as_of} />
      </WhenNear>
    </>
  );
}
