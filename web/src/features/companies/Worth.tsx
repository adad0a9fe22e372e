// What it is worth: price and value over time, the grid that opens year by year, and what one assumes oneself.
import Typography from "@mui/material/Typography";
import { lazy } from "react";
import type { Schemas } from "../../api/client";
import { WhenNear } from "../../components/Answered";
import { useDraft } from "../../headless/draft";
import { numberOf } from "../../headless/format";
import { Assume } from "./Assume";
import { PriceValueChart } from "./PriceValueChart";
import { Reverse } from "./worth/Reverse";
import { ValueGrid } from "./ValueGrid";
import { Changes } from "./worth/Changes";

const MyCase = lazy(() => import("./mine/MyCase"));

export function Worth({ page }: { page: Schemas["CompanyPage"] }) {
  const [draft, change] = useDraft(`assume:${page.company.symbol}`, page.value.own);
  return (
    <>
      <PriceValueChart months={page.months} episodes={page.record.episodes} />
      <Typography variant="body2" sx={{ mb: 1 }}>
        {page.record.sentence}
      </Typography>
      <Reverse value={page.value} />
      <ValueGrid value={page.value} own={page.value.own} />
      {page.value.models.length > 0 && <Assume value={page.value} draft={draft} change={change} />}
      <Typography variant="h3" sx={{ mt: 2.5 }}>
        My case
      </Typography>
      <WhenNear rows={10}>
        <MyCase
          symbol={page.company.symbol}
          currency={page.currency}
          base={page.base}
          price={numberOf(page.value.price)}
        />
      </WhenNear>
      <WhenNear rows={6}>
        <Changes symbol={page.company.symbol} date={page.as_of} />
      </WhenNear>
    </>
  );
}
