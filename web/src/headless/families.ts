// The families of measures as people call them.
import type { Measure } from "../api/client";

const NAMES: Partial<Record<Measure["family"], string>> = {
  owners_cash: "Owners' cash",
  balance: "Balance sheet",
  size: "Size and trading",
  income: "Income and margins",
  quarters: "Quarters and estimates",
  insiders: "Ownership and insiders",
  price: "Price behaviour",
  value: "Value",
};

export const familyName = (family: Measure["family"]): string =>
  NAMES[family] ?? `${family[0]?.toUpperCase()}${family.slice(1)}`;
