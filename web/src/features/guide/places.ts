// The places of the program: what each is for, what one does there, and what to know of it.

export interface Place {
  id: string;
  title: string;
  /** Where it is. */
  path: string;
  /** The question that it answers. */
  asks: string;
  does: { what: string; how: string }[];
  /** What to know before one believes it. */
  know: string;
}

export const PLACES: Place[] = [
  {
    id: "today",
    title: "Today",
    path: "/today",
    asks: "What happened since I last looked, and what of it matters to me?",
    does: [
      {
        what: "Read down the sections",
        how: "prices to act on, what insiders bought, sound companies at their lows, your screens, dates, changed verdicts with why.",
      },
      { what: "Mark what you have seen", how: "it is put away until something changes." },
      {
        what: "Set an alert",
        how: "any condition in the formula language; it shows first when it would have become true in the last five years.",
      },
    ],
    know: "Everything is told as of the date at the top right. Go back to it on a past day and it says what it said then.",
  },
  {
    id: "screens",
    title: "Screens",
    path: "/screens",
    asks: "Which of thousands of companies are worth reading?",
    does: [
      { what: "Add a criterion", how: "by a measure's name or as a formula; its curve shows how all companies lie." },
      {
        what: "Drag its bound",
        how: "the companies follow at once, and each criterion says what it alone takes away.",
      },
      { what: "Look at the near misses", how: "when nothing is left, they say which criterion to loosen." },
      {
        what: "Keep the screen",
        how: "it then tells who entered and who left since you last looked, and can be tested on the past.",
      },
    ],
    know: "A criterion passes only where it is true. Where a figure is undefined it says why and the company is counted apart, never dropped in silence.",
  },
  {
    id: "companies",
    title: "Companies",
    path: "/companies",
    asks: "Is it a good business, and what is it worth?",
    does: [
      {
        what: "Go through the twelve questions",
        how: "each is answered in a sentence with its evidence; j and k step to the next company and stay with the question.",
      },
      { what: "Open a figure", how: "part by part, down to the filing that states it." },
      {
        what: "Argue with the value",
        how: "move growth, the required return or the multiple; what you assume of this company can be kept.",
      },
      { what: "Write what you think", how: "a note, or a case with what would prove you wrong." },
    ],
    know: "Restated figures are used from the day of the restatement on, never before it.",
  },
  {
    id: "candidates",
    title: "Candidates",
    path: "/candidates",
    asks: "Which would I buy first, and at which price?",
    does: [
      {
        what: "Move the margin, the least quality or the weights",
        how: "the order follows, and says why each stands where it does.",
      },
      { what: "See them on the map", how: "quality against margin of safety." },
      { what: "Ask how sure the first ten are", how: "by drawing what cannot be known, thousands of times." },
    ],
    know: "A margin of safety is worth what the assumptions behind the value are: put another set beside yours.",
  },
  {
    id: "lists",
    title: "Lists",
    path: "/lists",
    asks: "Whom do I follow, and what became of them?",
    does: [
      {
        what: "Put a company on a list",
        how: "press l on it anywhere, drag its row, or paste symbols, ISINs or names.",
      },
      { what: "Note the price you would pay", how: "it stands beside the price, and the gap to it is a column." },
      { what: "Use it as a universe", how: "screens and candidates can be narrowed to a list." },
    ],
    know: "What became of each is counted from the day on which it came on the list.",
  },
  {
    id: "ledger",
    title: "Ledger",
    path: "/ledger",
    asks: "What do I own, why, and was I right?",
    does: [
      {
        what: "Lay an order",
        how: "b on a company: a limit on the ruler of prices, with how often it was touched and what speaks against it.",
      },
      {
        what: "Write down the reason",
        how: "thesis, what would prove it wrong, how sure you are; it comes back when it is due.",
      },
      { what: "Bring in statements", how: "OFX or CSV, held against the journal line by line before anything lands." },
    ],
    know: "The broker is simulated: fills stay within the bar of the day and a tenth of its volume. Results stand against the same money in an index.",
  },
  {
    id: "backtests",
    title: "Backtests",
    path: "/backtests",
    asks: "Would it have worked, and could it be luck?",
    does: [
      {
        what: "Test a screen or a ranking",
        how: "as it was known on each past date, costs paid, those that died counted.",
      },
      { what: "Read what speaks against it first", how: "few picks, one good year, many tries." },
      { what: "Change one thing", how: "the number held, the interval, the cost: a result that falls apart was none." },
    ],
    know: "The curve runs over what random portfolios of the same companies would have done. How often you tried is counted.",
  },
  {
    id: "assumptions",
    title: "Assumptions",
    path: "/assumptions",
    asks: "What do I believe about the future?",
    does: [
      {
        what: "Make a set of your own",
        how: "required return, growth bounds, multiples, weights; each save is a version.",
      },
      { what: "See what a change does", how: "to the whole market, while you type." },
      { what: "Put two sets side by side", how: "and see on which companies they differ." },
    ],
    know: '"Standard" stays as it is. Every value shown or exported names the set that made it.',
  },
  {
    id: "data",
    title: "Data",
    path: "/data",
    asks: "What is loaded, can I trust it, and how do I get more?",
    does: [
      {
        what: "Drop files",
        how: "packages, tables, filings, regulators' bulk files, folders of prices; see how they will be taken, then import.",
      },
      { what: "Look through the doubts", how: "what looks like a mistake in the data, each leading to its company." },
      { what: "Follow First data", how: "from nothing to a screened market, with what is missing still." },
      { what: "Keep it safe", how: "copies by the day, and everything out again in open forms." },
    ],
    know: "An import lands whole or not at all. Bad rows are named with file, line and what to do.",
  },
  {
    id: "people",
    title: "Several people",
    path: "/account",
    asks: "How do others use this server, and what do they see of mine?",
    does: [
      { what: "Invite somebody", how: "under People, as an owner: the link is shown once, and counts once." },
      {
        what: "Share something",
        how: "“Share…” in the menu of a screen, list, measure, assumption set, forecast or backtest: whoever can sign in and has the link reads it as you see it, and may take a copy.",
      },
      { what: "Take it back", how: "under What I share; it is gone for others at once." },
      { what: "Let a script in", how: "with an access token, for what you allow and as long as you say." },
      { what: "Turn the second factor on", how: "under Account: a code of your phone beside the passphrase." },
    ],
    know: "Whatever you make is yours alone until you share it; owners of the server see none of it either. Data, copies and people are theirs to look after.",
  },
];
