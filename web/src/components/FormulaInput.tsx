// A field for a formula: names are completed as one types, a mistake is underlined where it stands, with what was meant.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Paper from "@mui/material/Paper";
import Popper from "@mui/material/Popper";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { type KeyboardEvent, useId, useRef, useState } from "react";
import type { Schemas } from "../api/client";
import { useFunctions, useMeasures, useOwnMeasures } from "../api/queries";
import { completions, fromBytes, wordAt } from "../headless/completion";
import { tint } from "../theme/theme";

interface Props {
  value: string;
  change: (text: string) => void;
  /** When one is done: Enter, or the field is left. */
  take?: () => void;
  error: Schemas["FormulaError"] | null | undefined;
  label?: string;
  large?: boolean;
}

export function FormulaInput({ value, change, take, error, label = "Formula", large = false }: Props) {
  const measures = useMeasures().data ?? [];
  const own = useOwnMeasures().data ?? [];
  const functions = useFunctions().data ?? [];
  const field = useRef<HTMLInputElement | HTMLTextAreaElement>(null);
  const [caret, setCaret] = useState<number | null>(null);
  const [chosen, setChosen] = useState(0);
  const list = useId();
  const word = caret === null ? "" : wordAt(value, caret);
  const offered = completions(word, measures, own, functions);
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
  const press = (e: KeyboardEvent) => {
    const at = Math.min(chosen, offered.length - 1);
    if (offered.length > 0 && (e.key === "ArrowDown" || e.key === "ArrowUp")) {
      e.preventDefault();
      setChosen((at + (e.key === "ArrowDown" ? 1 : offered.length - 1)) % offered.length);
    } else if (offered.length > 0 && (e.key === "Tab" || (e.key === "Enter" && offered[at]?.text !== word))) {
      e.preventDefault();
      put(offered[at]?.text ?? word);
    } else if (e.key === "Escape" && offered.length > 0) {
      e.stopPropagation();
      setCaret(null);
    } else if (e.key === "Enter" && !e.shiftKey) {
      e.preventDefault();
      take?.();
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
          setChosen(0);
        }}
        onKeyDown={press}
        onBlur={() => {
          setCaret(null);
          take?.();
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
      <Popper open={offered.length > 0} anchorEl={field.current} placement="bottom-start" sx={{ zIndex: 1400 }}>
        <Paper id={list} role="listbox" aria-label="Names that fit" elevation={1} sx={{ mt: 0.5, width: 440 }}>
          {offered.map((c, i) => (
            <Box
              key={c.text}
              role="option"
              aria-selected={i === chosen}
              // The field must keep the focus, so that its caret stays.
              onMouseDown={(e) => {
                e.preventDefault();
                put(c.text);
              }}
              sx={{
                px: 1.25,
                py: 0.5,
                fontSize: 13,
                display: "flex",
                gap: 1,
                cursor: "pointer",
                bgcolor: i === chosen ? tint("brassWash") : undefined,
                "&:hover": { bgcolor: tint("tray") },
              }}
            >
              <b>{c.text}</b>
              <span>{c.label}</span>
              <span style={{ color: tint("faint"), marginLeft: "auto", textAlign: "right" }}>{c.hint}</span>
            </Box>
          ))}
        </Paper>
      </Popper>
      {error && offered.length === 0 && <Mistake text={value} error={error} mend={change} />}
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
        <Typography variant="body2" component="div" sx={{ overflowWrap: "anywhere", color: tint("second") }}>
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
      <Typography variant="body2" sx={{ color: tint("clay"), mt: 0.25 }}>
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
