// A field for a formula: names are completed as one types, a mistake is underlined where it stands, with what was meant.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { type KeyboardEvent, useId, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { useFunctions, useMeasures, useOwnMeasures } from "../api/queries";
import { completions, fromBytes, wordAt } from "../headless/completion";
import { tint } from "../theme/theme";
import { Listed } from "./find/Listed";
import { useChoosing } from "./find/useChoosing";

interface Props {
  value: string;
  change: (text: string) => void;
  /** When one is done: Enter, the field is left, or a mistake put right by what is offered for it. */
  take?: (text: string) => void;
  error: Schemas["FormulaError"] | null | undefined;
  label?: string;
  large?: boolean;
}

export function FormulaInput({ value, change, take: done, error, label = "Formula", large = false }: Props) {
  const measures = useMeasures().data ?? [];
  const own = useOwnMeasures().data ?? [];
  const functions = useFunctions().data ?? [];
  const field = useRef<HTMLInputElement | HTMLTextAreaElement>(null);
  const [caret, setCaret] = useState<number | null>(null);
  const list = useId();
  const word = caret === null ? "" : wordAt(value, caret);
  const offered = completions(word, measures, own, functions);
  const { chosen, choose, press: pressList } = useChoosing(offered.length);
  const put = (text: string) => {
    const at = (caret ?? value.length) - word.length;
    change(value.slice(0, at) + text + value.slice(at + word.length));
    const next = at + text.length;
    setCaret(null);
    requestAnimationFrame(() => {
      field.current?.focus();
      field.current?.setSelectionRange(next, next);
    });
  };
  const mend = (text: string) => {
    change(text);
    done?.(text);
  };
  const take = (i: number) => put(offered[i]?.text ?? word);
  const press = (e: KeyboardEvent) => {
    const whole = e.key === "Enter" && offered[chosen]?.text === word;
    if (offered.length > 0 && e.key === "Tab") {
      e.preventDefault();
      take(chosen);
    } else if (offered.length > 0 && !whole && pressList(e, take, () => setCaret(null))) return;
    else if (e.key === "Enter" && !e.shiftKey) {
      e.preventDefault();
      done?.(value);
    }
  };
  return (
    <Box>
      <TextField
        fullWidth
        multiline={large}
        minRows={large ? 3 : undefined}
        label={label}
        value={value}
        error={Boolean(error) && offered.length === 0}
        inputRef={field}
        onChange={(e) => {
          change(e.target.value);
          setCaret(e.target.selectionStart);
          choose(0);
        }}
        onKeyDown={press}
        onBlur={() => {
          setCaret(null);
          done?.(value);
        }}
        slotProps={{
          htmlInput: {
            spellCheck: false,
            "aria-autocomplete": "list",
            ...(offered.length > 0 && { "aria-controls": list }),
            autoComplete: "off",
          },
          input: { sx: large ? { fontSize: 16 } : {} },
        }}
      />
      <Listed
        id={list}
        label="Names that fit"
        anchor={field.current}
        entries={offered.map((c) => ({
          ...c,
          id: c.text,
          label: c.text,
          meaning: c.label,
          group: "",
          run: () => put(c.text),
        }))}
        chosen={chosen}
        take={take}
      />
      {error && offered.length === 0 && <Mistake text={value} error={error} mend={mend} />}
    </Box>
  );
}

/** Where the mistake is, what it is, and what may have been meant. */
function Mistake({
  text,
  error,
  mend,
}: {
  text: string;
  error: Schemas["FormulaError"];
  mend: (text: string) => void;
}) {
  const start = fromBytes(text, error.position.start);
  const end = Math.max(fromBytes(text, error.position.end), start + 1);
  return (
    <Box role="alert" sx={{ mt: 0.75 }}>
      {text.length > 0 && (
        <Typography variant="body2" component="div" color="textSecondary" sx={{ overflowWrap: "anywhere" }}>
          {text.slice(0, start)}
          <span
            style={{
              textDecoration: `underline wavy ${tint("clay")}`,
              textUnderlineOffset: 3,
              color: tint("ink"),
              fontWeight: 600,
            }}
          >
            {text.slice(start, end) || "\u00a0\u00a0"}
          </span>
          {text.slice(end)}
        </Typography>
      )}
      <Typography variant="body2" color="error" sx={{ mt: 0.25 }}>
        {error.message}
      </Typography>
      {error.suggestions.map((s) => (
        <Button key={s} sx={{ ml: -0.6, mr: 1 }} onClick={() => mend(text.slice(0, start) + s + text.slice(end))}>
          {s}
        </Button>
      ))}
    </Box>
  );
}
