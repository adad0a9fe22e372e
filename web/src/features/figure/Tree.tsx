// The parts of a figure, each opened in turn down to the filing it came from.
import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Schemas } from "../../api/client";
import { day, figureText } from "../../headless/format";
import { tint } from "../../theme/theme";

type Part = Schemas["Explanation"];

interface Money {
  base: string;
  currency: string;
}

/** The parts of the figure; what stands above them is the figure itself. */
export function Tree({ root, base, currency }: { root: Part } & Money) {
  return (
    <>
      <About part={root} open />
      <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0, fontSize: 13 }}>
        {root.inputs.map((input, i) => (
          <Node key={`${input.formula} ${input.label ?? ""} ${i}`} part={input} depth={1} money={{ base, currency }} />
        ))}
      </Box>
    </>
  );
}

function Node({ part, depth, money }: { part: Part; depth: number; money: Money }) {
  const [open, setOpen] = useState(depth < 2 && part.inputs.length <= 4);
  const leads = part.inputs.length > 0;
  const name = part.label ?? part.formula;
  return (
    <Box component="li">
      <ButtonBase
        disabled={!leads}
        onClick={() => setOpen(!open)}
        aria-expanded={leads ? open : undefined}
        sx={{
          display: "flex",
          width: "100%",
          alignItems: "baseline",
          gap: 1,
          textAlign: "left",
          font: "inherit",
          py: 0.6,
          borderTop: `1px solid ${tint("hairline")}`,
          "&:hover": leads ? { bgcolor: tint("tray") } : undefined,
        }}
      >
        <span style={{ width: 10, color: tint("faint"), flexShrink: 0 }}>{leads ? (open ? "−" : "+") : ""}</span>
        <span style={{ flex: 1, minWidth: 0 }}>
          <span style={{ fontWeight: 500 }}>{name}</span>
          {part.label && part.label !== part.formula && <span className="faint"> {part.formula}</span>}
        </span>
        <Value part={part} money={money} />
      </ButtonBase>
      <Box sx={{ pl: 2.25 }}>
        <About part={part} open={open} />
      </Box>
      {open && leads && (
        <Box component="ul" sx={{ listStyle: "none", m: 0, p: 0, pl: 2 }}>
          {part.inputs.map((input, i) => (
            <Node key={`${input.formula} ${input.label ?? ""} ${i}`} part={input} depth={depth + 1} money={money} />
          ))}
        </Box>
      )}
    </Box>
  );
}

/** Its formula, where it was filed, and the rules that were applied. */
function About({ part, open }: { part: Part; open: boolean }) {
  return (
    <Box sx={{ pb: 0.5, color: tint("second"), fontSize: 12, lineHeight: 1.45 }}>
      {part.definition && open && (
        <Box sx={{ color: tint("ink"), overflowWrap: "anywhere" }}>= {shortened(part.definition)}</Box>
      )}
      {part.source && <Source source={part.source} />}
      {part.notes.map((note) => (
        <div key={note}>{note.replace(/\d{4}-\d{2}-\d{2}/g, day)}</div>
      ))}
    </Box>
  );
}

function Value({ part, money }: { part: Part; money: Money }) {
  const text = figureText(part, part.unit);
  if (text === null) return <span className="faint right">– {part.reason}</span>;
  const currency = part.unit === "money" ? money.base : part.unit === "per_share" ? money.currency : "";
  return (
    <span className="strong nowrap">
      {text}
      {currency && <span className="faint light"> {currency}</span>}
    </span>
  );
}

const exact = new Intl.NumberFormat(undefined, { maximumFractionDigits: 6 });

function Source({ source }: { source: Schemas["Filing"] }) {
  const period = source.period && source.fiscal_year ? `${source.period} ${source.fiscal_year}` : "";
  const ended = source.period_end ? ` to ${day(source.period_end)}` : "";
  const filed =
    source.as_filed === null || source.as_filed === undefined
      ? ""
      : `, as ${exact.format(source.as_filed)} ${source.currency ?? ""}`;
  return (
    <Typography variant="caption" component="div" color="textSecondary" sx={{ overflowWrap: "anywhere" }}>
      {period && `${period}${ended} · `}filed {day(source.filed_on)} in {source.document}
      {filed}
    </Typography>
  );
}

const LONGEST = 400;
const shortened = (text: string): string => (text.length > LONGEST ? `${text.slice(0, LONGEST)}…` : text);
