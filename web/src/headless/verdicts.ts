// Verdicts in words and colour; the words say it without the colour.
import { tint } from "../theme/theme";

export const VERDICTS: Record<string, [string, string]> = {
  "in range": ["In range", tint("teal")],
  close: ["Close", tint("brass")],
  wait: ["Wait", tint("second")],
  pass: ["Pass", tint("clay")],
  "cannot value": ["Cannot value", tint("faint")],
};

export const verdict = (code: string): [string, string] => VERDICTS[code] ?? [code, tint("second")];
