// The assumptions of a set in the order of the form, each with its words.
import type { Assumptions } from "../../api/client";

export interface NumberAsked {
  key: keyof Assumptions;
  label: string;
  means: string;
  percent?: boolean;
  /** Which of a pair or list; absent for a single number. */
  at?: number;
}

export const GROUPS: [string, NumberAsked[]][] = [
  [
    "Growth",
    [
      { key: "growth_years", label: "Years at the scenario's growth", means: "Then it fades in a straight line." },
      { key: "horizon", label: "Horizon, years", means: "Years that are forecast one by one." },
      {
        key: "terminal_growth",
        label: "Growth after it",
        means: "In every model, for ever.",
        percent: true,
      },
      {
        key: "terminal_gap",
        label: "Gap to the discount rate",
        means: "Growth after the horizon stays at least this far below the discount rate.",
        percent: true,
      },
      { key: "growth_bounds", at: 0, label: "Minimum growth", means: "Of any scenario.", percent: true },
      { key: "growth_bounds", at: 1, label: "Maximum growth", means: "Of any scenario.", percent: true },
      {
        key: "sustainable_cap",
        label: "Maximum self-financed growth",
        means: "Return on equity times the share of earnings retained, up to this.",
        percent: true,
      },
      {
        key: "usual_inflation",
        label: "Inflation where unknown",
        means: "Where no rate of the currency is known.",
        percent: true,
      },
    ],
  ],
  [
    "Exit multiples",
    [
      {
        key: "exit_pe",
        at: 0,
        label: "Minimum exit P/E",
        means: "The company's own ten-year median is not taken below this.",
      },
      { key: "exit_pe", at: 1, label: "Maximum exit P/E", means: "Nor above this." },
      {
        key: "usual_pe",
        label: "Exit P/E without a history",
        means: "The exit multiple where the company's own history gives none.",
      },
      {
        key: "exit_pffo",
        at: 0,
        label: "Minimum exit P/FFO",
        means: "Of property companies, whose earnings are funds from operations.",
      },
      { key: "exit_pffo", at: 1, label: "Maximum exit P/FFO", means: "Nor above this." },
      {
        key: "persistence",
        label: "Persistence of excess return",
        means: "How much of the return above the required one remains each year after the horizon.",
      },
    ],
  ],
  [
    "Your requirements",
    [
      { key: "margin", label: "Margin of safety", means: "How far below its value you would buy.", percent: true },
      {
        key: "wider_when_unsure",
        label: "Wider when uncertain, by",
        means: "Added where the valuations do not agree at all; 0 for never.",
        percent: true,
      },
      { key: "least_quality", label: "Minimum quality", means: "Out of a hundred points." },
      {
        key: "close_within",
        label: "Close within",
        means: "A price up to this far above what you would pay is called close.",
        percent: true,
      },
      {
        key: "fair_band",
        label: "Fair within",
        means: "Called fairly priced, neither under nor over its value.",
        percent: true,
      },
    ],
  ],
  [
    "Weight of the scenarios",
    [
      { key: "scenario_weights", at: 0, label: "As in the past", means: "Weight of the scenario; 0 leaves it out." },
      {
        key: "scenario_weights",
        at: 1,
        label: "As analysts expect",
        means: "Weight of the scenario; 0 leaves it out.",
      },
      { key: "scenario_weights", at: 2, label: "Self-financed", means: "Weight of the scenario; 0 leaves it out." },
      { key: "scenario_weights", at: 3, label: "With inflation", means: "Weight of the scenario; 0 leaves it out." },
      { key: "scenario_weights", at: 4, label: "No growth", means: "Weight of the scenario; 0 leaves it out." },
    ],
  ],
  [
    "How figures are computed",
    [
      { key: "outlier_cut", label: "Outlier cut", means: "Modified z-score beyond which a valuation is set apart." },
      { key: "tax_rate", label: "Tax where unknown", means: "Where no rate can be computed.", percent: true },
      {
        key: "cost_of_debt",
        at: 0,
        label: "Minimum cost of debt",
        means: "Where the AAA yield of the currency is not known.",
        percent: true,
      },
      {
        key: "cost_of_debt",
        at: 1,
        label: "Maximum cost of debt",
        means: "However much interest was paid.",
        percent: true,
      },
      {
        key: "leverage_floor",
        label: "Maximum effect of debt on the rate",
        means: "More debt does not make a business worth more.",
        percent: true,
      },
      {
        key: "margin_years",
        label: "Years of the mean margin",
        means: "Fiscal years whose mean operating margin lasts.",
      },
      {
        key: "range_years",
        label: "Years of the multiple range",
        means: "Fiscal years whose lowest and highest multiples are applied to expected earnings.",
      },
      {
        key: "draws",
        label: "Draws",
        means: "How many times growth, return and exit multiple are drawn to estimate the odds.",
      },
      ...["quarter", "half-year", "year"].map((rhythm, at) => ({
        key: "quiet_months" as const,
        at,
        label: `Months overdue, reporting by ${rhythm}`,
        means: `A company that reports by ${rhythm} and has filed nothing for this many months gets a red flag.`,
      })),
    ],
  ],
  [
    "Weight of the models",
    [
      "Earnings multiple",
      "Owner cash flow",
      "Firm cash flow",
      "Residual income",
      "Earnings power",
      "Own normal multiple",
      "Dividend stream",
      "Excess return",
      "Property cash flow",
    ].map((label, at) => ({
      key: "model_weights" as const,
      at,
      label,
      means: "Weight of the model; 0 leaves it out.",
    })),
  ],
];

export function numberOfSet(set: Assumptions, f: NumberAsked): number {
  const value = set[f.key] as number | number[];
  return Array.isArray(value) ? (value[f.at ?? 0] ?? 0) : value;
}

export function withNumber(set: Assumptions, f: NumberAsked, to: number): Assumptions {
  const old = set[f.key] as number | number[];
  return { ...set, [f.key]: Array.isArray(old) ? old.map((v, i) => (i === (f.at ?? 0) ? to : v)) : to };
}

/** The required return in two parts: what it is added to, and how much. */
export const RETURNS: [string, string][] = [
  ["fixed", "the same for all"],
  ["over_aaa", "AAA corporate yield plus"],
  ["over_government", "ten-year government yield plus"],
];

export function returnOf(set: Assumptions): [string, number] {
  const [kind, rate] = Object.entries(set.required_return)[0] ?? ["fixed", 0.09];
  return [kind, rate as number];
}

export const withReturn = (set: Assumptions, kind: string, rate: number): Assumptions => ({
  ...set,
  required_return: { [kind]: rate } as Assumptions["required_return"],
});

export const EARNINGS: [string, string][] = [
  ["ltm", "the last twelve months"],
  ["average3", "the mean of three years"],
  ["average5", "the mean of five years"],
  ["normal", "today's revenue at the usual margin"],
];
