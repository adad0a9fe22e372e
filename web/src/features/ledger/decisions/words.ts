// What decisions and reasons are called, and how they are sent.
import type { Choice, Reasons } from "../../../api/decisions";

export const CHOICES: Record<Choice, string> = { buy: "buy", not_now: "not now", sell: "sell", keep: "keep" };

/** Nothing is said yet. */
export const NO_REASONS: Reasons = {
  thesis: "",
  wrong: "",
  wrong_when: [],
  confidence: null,
  review_on: null,
  tell_at_value: false,
  screen: null,
};

/** As it is sent: without empty lines. */
export const tidy = (reasons: Reasons): Reasons => ({
  ...reasons,
  wrong_when: reasons.wrong_when.map((f) => f.trim()).filter(Boolean),
});

/** Whether anything is said. */
export const says = (r: Reasons): boolean =>
  Boolean(
    r.thesis.trim() ||
      r.wrong.trim() ||
      r.wrong_when.some((f) => f.trim()) ||
      r.confidence != null ||
      r.review_on ||
      r.tell_at_value,
  );
