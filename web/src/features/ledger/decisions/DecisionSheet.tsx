// One decision, then and now: what was seen, what is seen, why the value changed, and what one thinks of it by now.
import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import FormControlLabel from "@mui/material/FormControlLabel";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../../api/client";
import { decisions, useDecision } from "../../../api/decisions";
import { useLedgerChange } from "../../../api/ledger";
import { Answered } from "../../../components/Answered";
import { Table } from "../../../components/Table";
import { monthsAfter } from "../../../headless/days";
import { useDraft } from "../../../headless/draft";
import { day, inUnit, percent, price, signed } from "../../../headless/format";
import { CHOICES } from "./words";
import { YesNo } from "./YesNo";

type Decision = Schemas["DecisionAnswer"];
type Review = Schemas["Review"];

interface Props {
  id: string;
  asOf: string | undefined;
  index: string | null;
  close: () => void;
}

export function DecisionSheet({ id, asOf, index, close }: Props) {
  const answer = useDecision(id, { as_of: asOf ?? null, index, symbol: null });
  return (
    <Dialog open onClose={close} fullWidth maxWidth="md" aria-label="Decision">
      <DialogTitle sx={{ pb: 0 }}>
        {answer.data ? (
          <>
            {answer.data.row.name}{" "}
            <span className="faint light">
              {CHOICES[answer.data.row.choice]}, {day(answer.data.row.decided_on)}
            </span>
          </>
        ) : (
          "Decision"
        )}
      </DialogTitle>
      <DialogContent>
        <Answered answer={answer} rows={8}>
          {(of) => (
            <>
              <ThenAndNow of={of} />
              {asOf === undefined && !of.row.closed && <ReviewForm of={of} close={close} />}
            </>
          )}
        </Answered>
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>Close</Button>
      </DialogActions>
    </Dialog>
  );
}

function ThenAndNow({ of }: { of: Decision }) {
  const { row, reasons } = of;
  return (
    <>
      <Typography variant="sentence" component="p" sx={{ mb: 1 }}>
        {cameOfIt(row)} {of.change?.sentence}
      </Typography>
      {of.corrected && (
        <Typography variant="body2" className="clay" sx={{ mb: 1 }}>
          {of.corrected}
        </Typography>
      )}
      <Box sx={{ display: "grid", gridTemplateColumns: { xs: "1fr", sm: "1fr 1fr" }, gap: 3, mb: 1.5 }}>
        <Said label="Thesis" text={reasons.thesis} />
        <Said
          label="What would prove me wrong"
          text={[reasons.wrong, ...reasons.wrong_when].filter(Boolean).join("\n")}
        />
      </Box>
      <Typography variant="body2" sx={{ mb: 1 }}>
        {of.new_flags.length === 0 ? (
          <span className="second">No red flag was raised since.</span>
        ) : (
          <span className="clay">Raised since: {of.new_flags.join(" ")}</span>
        )}
      </Typography>
      <Table
        label="Then and now"
        maxHeight={260}
        head={["Figure", day(row.decided_on), of.now ? day(of.now.as_of) : "now"]}
        rows={[...headline(of), ...figures(of)].map(([label, then, now]) => ({
          key: label,
          cells: [label, then, now],
        }))}
      />
      {of.reviews.map((r, i) => (
        <Typography key={i} variant="body2" sx={{ mt: 1 }}>
          <b>{day(r.on ?? "")}</b> {outcome(r)} {r.lesson && <span className="serif">{r.lesson}</span>}
        </Typography>
      ))}
    </>
  );
}

const Said = ({ label, text }: { label: string; text: string }) => (
  <Box>
    <Typography variant="h3">{label}</Typography>
    <Box className="serif" sx={{ whiteSpace: "pre-wrap", maxHeight: 150, overflowY: "auto", fontSize: 15 }}>
      {text || <span className="faint">Nothing was written.</span>}
    </Box>
  </Box>
);

/** "+12 % since then, the index +4 %: right so far." */
function cameOfIt(row: Schemas["DecisionRow"]): string {
  if (row.not_carried_out) return "Nothing came of its order.";
  if (row.share_since == null) return "No session has followed yet.";
  const index = row.index_since == null ? "" : `, the index ${signed(row.index_since)}`;
  const right =
    row.right == null ? "" : `: ${row.right ? "right" : "wrong"} ${row.settled ? "after three years" : "so far"}`;
  return `The share ${signed(row.share_since)} since then${index}${right}.`;
}

type Line = [string, string, string];

function headline({ row, seen, now }: Decision): Line[] {
  const amount = (x: number | null | undefined) => (x == null ? "–" : price(x));
  const share = (x: number | null | undefined) => (x == null ? "–" : percent(x));
  return [
    [`Price, ${row.currency}`, amount(row.price_then), amount(row.price_now)],
    ["Value", amount(row.value_then), amount(now?.value)],
    ["Margin of safety", share(seen.margin_of_safety), share(now?.margin_of_safety)],
    ["Verdict", seen.verdict, now?.verdict ?? "–"],
    [
      "Quality",
      seen.quality == null ? "–" : inUnit(seen.quality, "rank"),
      now?.quality == null ? "–" : inUnit(now.quality, "rank"),
    ],
  ];
}

const figures = ({ figures: all }: Decision): Line[] =>
  all
    .filter((f) => f.formula !== "price")
    .map((f) => [f.label, f.then == null ? "–" : inUnit(f.then, f.unit), f.now == null ? "–" : inUnit(f.now, f.unit)]);

/** Two answers, four outcomes. */
function outcome({ reason_right: reason, result_right: result, closes }: Review): string {
  const words =
    reason == null || result == null
      ? [
          reason == null ? "" : `The reason was ${reason ? "right" : "wrong"}.`,
          result == null ? "" : `The result was ${result ? "right" : "wrong"}.`,
        ]
      : [
          reason
            ? result
              ? "Right for the right reason."
              : "The reason was right, the result was not: bad luck, or too early."
            : result
              ? "Right for the wrong reason: luck."
              : "Wrong, and for a wrong reason.",
        ];
  return [...words, closes ? "Closed." : ""].filter(Boolean).join(" ");
}

const NO_REVIEW: Review = {
  on: null,
  reason_right: null,
  result_right: null,
  lesson: "",
  next_on: null,
  closes: false,
};

function ReviewForm({ of, close }: { of: Decision; close: () => void }) {
  const today = of.as_of;
  const [draft, setDraft, letGo] = useDraft<Review>(`review:${of.row.id}`, NO_REVIEW);
  const change = useLedgerChange<void>();
  const set = (to: Partial<Review>) => setDraft({ ...draft, ...to });
  const write = () =>
    change.mutate(() => decisions.review(of.row.id, draft), {
      onSuccess: () => {
        letGo();
        close();
      },
    });
  return (
    <Box component="form" aria-label="Review" sx={{ mt: 2 }} onSubmit={(e) => [e.preventDefault(), write()]}>
      <Typography variant="h3">Looked at again</Typography>
      {change.error && (
        <Alert severity="warning" variant="outlined" icon={false} sx={{ my: 1 }}>
          {change.error.message}
        </Alert>
      )}
      <Box sx={{ display: "flex", gap: 4, flexWrap: "wrap", my: 1 }}>
        <YesNo label="Was the reason right?" value={draft.reason_right} set={(reason_right) => set({ reason_right })} />
        <YesNo label="Was the result?" value={draft.result_right} set={(result_right) => set({ result_right })} />
      </Box>
      <TextField
        label="What I learn from it"
        multiline
        fullWidth
        minRows={2}
        value={draft.lesson}
        onChange={(e) => set({ lesson: e.target.value })}
        slotProps={{ inputLabel: { shrink: true } }}
      />
      <Box sx={{ display: "flex", gap: 2, alignItems: "center", mt: 1.5, flexWrap: "wrap" }}>
        <TextField
          type="date"
          label="Look again on"
          value={draft.next_on ?? ""}
          disabled={draft.closes}
          onChange={(e) => set({ next_on: e.target.value || null })}
          slotProps={{ inputLabel: { shrink: true } }}
        />
        {[3, 6, 12].map((m) => (
          <Button key={m} onClick={() => set({ next_on: monthsAfter(today, m), closes: false })}>
            in {m === 12 ? "a year" : `${m} months`}
          </Button>
        ))}
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              checked={draft.closes}
              onChange={(e) => set({ closes: e.target.checked, ...(e.target.checked && { next_on: null }) })}
            />
          }
          label="It is over: close it"
        />
        <Box sx={{ flex: 1 }} />
        <Button type="submit" variant="contained" disabled={change.isPending}>
          Write it down
        </Button>
      </Box>
    </Box>
  );
}
