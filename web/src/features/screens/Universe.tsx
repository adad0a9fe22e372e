// Whom the screen looks among, as a sentence, and the form that changes it.
import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { lazy, Suspense, useState } from "react";
import type { Schemas, Screen, ScreenAnswer } from "../../api/client";
import { useAbout } from "../../api/queries";
import { compact, count, percent, price } from "../../headless/format";
import type { Edit } from "../../headless/screenState";
import { tint } from "../../theme/theme";

type Among = Schemas["ScreenUniverse"];

const UniverseForm = lazy(async () => ({ default: (await import("./UniverseForm")).UniverseForm }));

function inSentence(u: Among, base: string): string {
  const parts = [
    u.sectors?.length ? `in ${u.sectors.join(", ")}` : "in all sectors",
    u.industries?.length ? `of the industries ${u.industries.join(", ")}` : "",
    u.index ? `in the index ${u.index}` : "",
    u.list ? `on the list ${u.list}` : "",
    u.symbols?.length ? `of ${u.symbols.length} named ones` : "",
    u.order
      ? `in which ${compact(u.order.amount)} ${base} are at most ${percent(u.order.max_share)} of a day's trading`
      : "",
    u.countries?.length ? `of ${u.countries.join(", ")}` : "",
    u.kinds?.length ? `only ${u.kinds.join(", ")}` : "without funds",
    u.min_market_cap ? `worth at least ${compact(u.min_market_cap)} ${base}` : "",
    u.min_price ? `at a price of at least ${price(u.min_price)} ${base}` : "",
    u.min_traded_value ? `trading at least ${compact(u.min_traded_value)} ${base} a day` : "",
  ];
  return parts.filter(Boolean).join(", ");
}

export function Universe({ screen, edit, answer }: { screen: Screen; edit: Edit; answer: ScreenAnswer | undefined }) {
  const [anchor, setAnchor] = useState<Element | null>(null);
  const about = useAbout();
  const universe = screen.universe ?? {};
  const base = about.data?.base ?? "";
  const undefinedFloor = answer?.universe_undefined_floor ?? 0;
  return (
    <Box sx={{ py: 1, borderTop: `1px solid ${tint("hairline")}`, borderBottom: `1px solid ${tint("hairline")}` }}>
      <Typography variant="body2">
        Of <b>{answer ? count(answer.universe) : "…"} companies</b> {inSentence(universe, base)}
        {undefinedFloor > 0 && ` (${count(undefinedFloor)} left out: size or trading not known)`}.{" "}
        <Link
          component="button"
          sx={{ fontWeight: 600, verticalAlign: "baseline" }}
          onClick={(e) => setAnchor(e.currentTarget)}
        >
          Change
        </Link>
      </Typography>
      <Suspense>
        {anchor && (
          <UniverseForm
            anchor={anchor}
            universe={universe}
            base={base}
            change={(to) => edit((s) => ({ ...s, universe: { ...s.universe, ...to } }))}
            close={() => setAnchor(null)}
          />
        )}
      </Suspense>
    </Box>
  );
}
