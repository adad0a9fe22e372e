// The methods that are more than one formula, told with where they come from.

export interface Method {
  title: string;
  said: string;
  /** How it is computed. */
  formula?: string;
  source?: string;
}

export const MODELS: Method[] = [
  {
    title: "1 · Earnings multiple",
    said: "Dividends over the horizon, then a sale at the multiple that the company usually had.",
    formula: "Σ p E_t ÷ (1+r)^t + E_N × X ÷ (1+r)^N, X the median P/E of ten years within bounds",
  },
  {
    title: "2 · Owner cash flow",
    said: "The cash that is left to shareholders, discounted.",
    formula: "Σ F_t ÷ (1+r)^t + F_N (1+g_T) ÷ (r − g_T) ÷ (1+r)^N",
  },
  {
    title: "3 · Firm cash flow",
    said: "The cash of the whole firm before interest, at the mean cost of its capital, less what belongs to others.",
    formula: "operating income × (1 − tax) + depreciation − capital expenditure; w = E/(D+E) r + D/(D+E) k (1 − tax)",
  },
  {
    title: "4 · Residual income",
    said: "Book value, and what is earned above the required return on it, part of which lasts.",
    formula: "B_0 + Σ (E_t − r B_(t−1)) ÷ (1+r)^t + ω RI_N ÷ (1 + r − ω) ÷ (1+r)^N",
    source: "Ohlson 1995",
  },
  {
    title: "5 · Earnings power",
    said: "Today's sales at the usual margin for ever, without growth.",
    formula: "mean operating margin × revenue × (1 − tax) ÷ w, plus cash, less debt, a share",
    source: "Greenwald 2001",
  },
  {
    title: "6 · Own normal multiple",
    said: "What the market has usually paid for this company's earnings, sales, book value and operating income.",
    formula: "mean of figure a share × its own median multiple of ten years",
  },
  {
    title: "7 · Dividend stream",
    said: "The dividends alone, their growth fading to that of the economy.",
    formula: "D_0 [(1+g_T) + H (g − g_T)] ÷ (r − g_T), H half of the fade",
    source: "H-model, Fuller & Hsia 1984",
  },
  {
    title: "8 · Excess return",
    said: "Banks and insurers: book value, and a return above the required one that fades away.",
    formula: "B_0 + Σ (ROE_t − r) B_(t−1) ÷ (1+r)^t",
  },
  {
    title: "9 · Property cash flow",
    said: "Property companies: the first model on funds from operations.",
    formula: "as model 1, with funds from operations in place of earnings",
  },
];

export const OTHERS: Method[] = [
  {
    title: "One value from many",
    said: "Extremes among the models and scenarios are set apart; each model is the weighted mean of its scenarios, the value the weighted mean of the models. The quartiles of what counts are its range.",
    formula: "0.6745 (ln v − median) ÷ median absolute deviation beyond 3.5 is set apart",
    source: "Iglewicz & Hoaglin 1993",
  },
  {
    title: "Is it luck?",
    said: "A backtest stands beside portfolios of the same sizes drawn at random from the same companies on the same days, and its excess return has an interval from resampled blocks of months.",
    source: "stationary bootstrap, Politis & Romano 1994",
  },
];
