// What to do next: when nothing is left, which criterion to drop; when many are, which bound to tighten.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { memo } from "react";
import type { Schemas, Screen, ScreenAnswer } from "../../api/client";
import { count } from "../../headless/format";
import { change, type Edit, placeOf } from "../../headless/screenState";

interface Props {
  screen: Screen;
  answer: ScreenAnswer;
  edit: Edit;
}

/** Criteria that are offered to be dropped. */
const MOST = 3;

const whole = ({ what, bound }: Schemas["Sentence"]) => `${what} ${bound}`.trim();

export const Suggestions = memo(function Suggestions({ screen, answer, edit }: Props) {
  const to = (flat: number, what: Parameters<typeof change>[2], removed?: string) => {
    const place = placeOf(screen, flat);
    if (place) edit((s) => change(s, place, what), removed);
  };
  const offers =
    answer.survivors === 0
      ? answer.criteria
          .map((c, flat) => ({ c, flat }))
          .filter(({ c }) => c.back_if_dropped > 0)
          .sort((a, b) => b.c.back_if_dropped - a.c.back_if_dropped)
          .slice(0, MOST)
          .map(({ c, flat }) => ({
            key: flat,
            says: `Without “${whole(c.sentence)}” ${count(c.back_if_dropped)} would be left.`,
            button: "Switch it off",
            run: () => to(flat, { enabled: false }, `${c.sentence.what} switched off`),
          }))
      : answer.tighter.map((t) => ({
          key: t.criterion,
          says: `“${whole(t.sentence)}” would leave ${count(t.leaves)}.`,
          button: "Apply",
          run: () => to(t.criterion, { ...(t.min != null && { min: t.min }), ...(t.max != null && { max: t.max }) }),
        }));
  if (offers.length === 0) return null;
  return (
    <Box
      aria-label="Suggestions"
      component="section"
      sx={{ mb: 0.75, display: "flex", flexWrap: "wrap", columnGap: 3 }}
    >
      {offers.map((o) => (
        <Typography key={o.key} variant="body2" component="div" color="textSecondary">
          {o.says} <Button onClick={o.run}>{o.button}</Button>
        </Typography>
      ))}
    </Box>
  );
});
