// A field with a list of what its words find. The list is loaded when somebody first comes to the field.
import InputBase from "@mui/material/InputBase";
import { styled } from "@mui/material/styles";
import { lazy, type RefObject, Suspense, useId, useRef, useState } from "react";
import { tint } from "../../theme/theme";
import { useChoosing } from "./useChoosing";

const Listed = lazy(async () => ({ default: (await import("./Listed")).Listed }));

/** What can be found. */
export interface Entry {
  id: string;
  label: string;
  group: string;
  /** Said beside it. */
  hint?: string;
  /** Said below it. */
  meaning?: string;
  run: () => void;
}

interface Props {
  label: string;
  placeholder: string;
  text: string;
  setText: (to: string) => void;
  entries: Entry[];
  /** What is said when nothing is found. */
  none: string;
  /** Takes what was typed as it is, where nothing of the list was chosen. */
  take?: (typed: string) => void;
  opened?: () => void;
  input?: RefObject<HTMLInputElement | null>;
}

const Field = styled(InputBase)({
  width: "100%",
  fontSize: 13,
  padding: "1px 10px",
  border: `1px solid ${tint("hairline")}`,
  borderRadius: 4,
  backgroundColor: tint("panel"),
  "&:hover": { borderColor: tint("history") },
  "&.Mui-focused": { borderColor: tint("brass") },
});

export function FindField(p: Props) {
  const { entries, text, setText } = p;
  const id = useId();
  const own = useRef<HTMLInputElement>(null);
  const input = p.input ?? own;
  const [open, setOpen] = useState(false);
  const { chosen, choose, press } = useChoosing(entries.length);
  // Where text is taken as it is, something of the list is chosen only by its keys.
  const [byKey, setByKey] = useState(false);
  const picked = p.take && !byKey ? -1 : chosen;
  const restart = () => {
    choose(0);
    setByKey(false);
  };
  const show = () => {
    if (!open) p.opened?.();
    setOpen(true);
  };
  const done = (run: () => void) => {
    setText("");
    setOpen(false);
    restart();
    // Where text is taken one often writes the next one.
    if (!p.take) input.current?.blur();
    run();
  };
  const takeTyped = () => text.trim() !== "" && done(() => p.take?.(text.trim()));
  return (
    <>
      <Field
        inputRef={input}
        value={text}
        placeholder={p.placeholder}
        onChange={(e) => {
          setText(e.target.value);
          restart();
          show();
        }}
        onFocus={show}
        onClick={show}
        onBlur={() => setOpen(false)}
        onKeyDown={(e) => {
          if (e.key.startsWith("Arrow")) show();
          if (e.key === "Enter" && picked < 0) takeTyped();
          else if (e.key === "ArrowDown" && picked < 0 && entries.length > 0) {
            e.preventDefault();
            setByKey(true);
          } else
            press(
              e,
              (i) => done(() => entries[i]?.run()),
              () => setOpen(false),
            );
        }}
        inputProps={{
          role: "combobox",
          "aria-label": p.label,
          "aria-autocomplete": "list",
          "aria-expanded": open,
          autoComplete: "off",
          spellCheck: false,
          ...(open && { "aria-controls": id }),
          ...(open && picked >= 0 && { "aria-activedescendant": `${id}-${picked}` }),
        }}
      />
      <Suspense>
        {open && (
          <Listed
            id={id}
            label={p.label}
            anchor={input.current}
            entries={entries}
            chosen={picked}
            take={(i) => done(() => entries[i]?.run())}
            none={p.none}
          />
        )}
      </Suspense>
    </>
  );
}
