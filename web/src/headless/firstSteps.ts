// Eight stops through the program, each one thing done with one's own hand; left and taken up at any time.
import { create } from "zustand";
import { persist } from "zustand/middleware";

export interface Stop {
  id: string;
  title: string;
  /** Where it is done. */
  path: string;
  /** What to do there. */
  task: string;
  /** What it shows. */
  shows: string;
}

export const STOPS: Stop[] = [
  {
    id: "screen",
    title: "Drag a bound",
    path: "/screens",
    task: "Drag the handle below a criterion's curve, or focus it and press the arrow keys. The companies follow.",
    shows: "A screen is a set of needs. Each shows how all companies lie, and what it alone takes away.",
  },
  {
    id: "figure",
    title: "Open a figure",
    path: "/screens",
    task: "Click any figure in the table. Follow it from part to part, down to the filing that states it.",
    shows: "Every figure has one definition and can be opened. What is undefined says why.",
  },
  {
    id: "past",
    title: "Go back three years",
    path: "/screens",
    task: "Click the date at the top right and choose one three years ago. Then come back to today.",
    shows: "Everything is computed from what was public on that day, and nothing else.",
  },
  {
    id: "company",
    title: "Argue with a value",
    path: "/companies",
    task: "Open a company, and in its valuation move growth or the required return. The value and the margin of safety move with it.",
    shows: "A value is worth what its assumptions are. Yours are kept beside the standard ones.",
  },
  {
    id: "list",
    title: "Put a company on a list",
    path: "/screens",
    task: "Drag a row onto a list, or press L on it. Lists are where you read on another evening.",
    shows: "From thousands to a few: what is left is read, not screened.",
  },
  {
    id: "rank",
    title: "Rank the candidates",
    path: "/candidates",
    task: "Move one weight and see who rises. Open the first to see why it stands there.",
    shows: "Value, quality and safety are weighed as you say, and the order can be explained.",
  },
  {
    id: "order",
    title: "Lay an order",
    path: "/ledger",
    task: "Open a company, choose Order, and read what it would do to your holdings before you lay it. The account is a simulated one.",
    shows: "A limit from the value, a size from the risk, and the reason written down before the purchase.",
  },
  {
    id: "backtest",
    title: "Read a backtest",
    path: "/backtests",
    task: "Run the screen over the past, and read first what speaks against it: luck, costs, and the years in which it failed.",
    shows: "Whether the method works, with the dead companies in it and no look ahead.",
  },
];

interface Tour {
  /** Whether the stop is shown while one goes about. */
  on: boolean;
  done: string[];
  start: () => void;
  leave: () => void;
  finish: (id: string) => void;
  again: () => void;
}

export const useFirstSteps = create<Tour>()(
  persist(
    (set) => ({
      on: false,
      done: [],
      start: () => set({ on: true }),
      leave: () => set({ on: false }),
      finish: (id) =>
        set((s) => {
          const done = s.done.includes(id) ? s.done : [...s.done, id];
          return { done, on: s.on && done.length < STOPS.length };
        }),
      again: () => set({ done: [], on: true }),
    }),
    { name: "artemon.first-steps" },
  ),
);

/** The first stop that is not done. */
export const nextStop = (done: string[]): Stop | undefined => STOPS.find((s) => !done.includes(s.id));
