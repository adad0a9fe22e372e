// When an alert would have said something in the last five years.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { useAlertPreview } from "../../api/following";
import { Loading } from "../../components/States";
import { day, plain } from "../../headless/format";
import { tint } from "../../theme/theme";

const STEPS = { session: "each session", week: "once a week", month: "at month ends" };

export function AlertPast({ body }: { body: Schemas["AlertBody"] | null }) {
  const { data, error, isFetching } = useAlertPreview(body);
  if (body === null) return <Quiet>Say what it waits for, to see when it would have told you.</Quiet>;
  if (error)
    return (
      <Typography variant="body2" sx={{ color: tint("clay"), pt: 1 }}>
        {error.message}
      </Typography>
    );
  if (!data) return <Loading rows={6} />;
  const { past } = data;
  return (
    <Box aria-busy={isFetching} sx={{ pt: 1, opacity: isFetching ? 0.6 : 1 }}>
      <Typography variant="sentence">{sentence(data)}</Typography>
      {past && (
        <>
          <Years past={past} />
          <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0, maxHeight: 220, overflowY: "auto", fontSize: 13 }}>
            {past.fired.map((f) => (
              <Box component="li" key={`${f.date} ${f.symbol}`} sx={{ display: "flex", gap: 1, py: 0.25 }}>
                <Box sx={{ width: 88 }} className="second">
                  {day(f.date)}
                </Box>
                {f.name} <span className="faint">{f.symbol}</span>
              </Box>
            ))}
          </Box>
        </>
      )}
    </Box>
  );
}

function sentence({ past, companies }: Schemas["AlertPreview"]): string {
  const among = companies === 1 ? "one company" : `${plain(companies, 0)} companies`;
  if (!past) return `It looks at ${among}. Dates are not known of the past, so there is nothing to look back on.`;
  const times = past.count === 0 ? "never" : past.count === 1 ? "once" : `${plain(past.count, 0)} times`;
  const of = companies === 0 ? "" : ` of ${among}`;
  return `Since ${day(past.from)} it would have told you ${times}${of}, looked at ${STEPS[past.step]}.`;
}

/** A bar a year. */
function Years({ past }: { past: Schemas["PastFirings"] }) {
  const years = [...past.years].reverse();
  const most = Math.max(...years.map((y) => y.count), 1);
  return (
    <Box sx={{ display: "flex", gap: 1.5, alignItems: "flex-end", height: 76, my: 1.5 }} aria-hidden="true">
      {years.map((y) => (
        <Box key={y.year} sx={{ textAlign: "center", fontSize: 12 }}>
          <span className="second">{y.count}</span>
          <Box sx={{ width: 34, height: 1 + (y.count / most) * 36, bgcolor: tint("history") }} />
          <span className="faint">{y.year}</span>
        </Box>
      ))}
    </Box>
  );
}

function Quiet({ children }: { children: string }) {
  return (
    <Typography variant="body2" color="textSecondary" sx={{ pt: 2 }}>
      {children}
    </Typography>
  );
}
