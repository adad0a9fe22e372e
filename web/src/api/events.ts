// What the server says by itself: imports and backtests as they go on, and that the data is another. A browser opens six connections to one server,
// whatever tabs there are: one tab listens for all of them, and the next takes over when it is closed.
import type { Job, Schemas } from "./client";

const NAME = "artemon.events";
/** The events that the server sends. */
const EVENTS = ["jobs", "backtests", "news"] as const;
/** When to try again, in milliseconds. */
const AGAIN = 10_000;
type Name = (typeof EVENTS)[number];

interface Said {
  name: Name;
  data: string;
}

const hearers: Record<Name, Set<(data: string) => void>> = {
  jobs: new Set(),
  backtests: new Set(),
  news: new Set(),
};
let channel: BroadcastChannel | undefined;

const tell = ({ name, data }: Said) => {
  for (const hear of hearers[name]) hear(data);
};

/** Begins to listen: here, once no other tab does, and until then to that one. */
function begin() {
  channel = new BroadcastChannel(NAME);
  channel.onmessage = (e: MessageEvent<Said>) => tell(e.data);
  // Held as long as the page is there.
  void navigator.locks.request(NAME, () => new Promise<never>(listen));
}

function listen() {
  const events = new EventSource("/api/events");
  for (const name of EVENTS) {
    events.addEventListener(name, (e: MessageEvent<string>) => {
      const said = { name, data: e.data };
      tell(said);
      channel?.postMessage(said);
    });
  }
  // It comes back by itself, but not once it was refused: the session had ended.
  events.onerror = () => {
    if (events.readyState === EventSource.CLOSED) setTimeout(listen, AGAIN);
  };
}

function on(name: Name, hear: (data: string) => void): () => void {
  if (!channel) begin();
  hearers[name].add(hear);
  return () => void hearers[name].delete(hear);
}

/** Hears of every change of an import. */
export const onJobs = (hear: (jobs: Job[]) => void): (() => void) => on("jobs", (data) => hear(JSON.parse(data)));

/** Hears of every change of the backtests that run. */
export const onBacktests = (hear: (running: Schemas["RunningBacktest"][]) => void): (() => void) =>
  on("backtests", (data) => hear(JSON.parse(data)));

/** Hears that the data is another. */
export const onNews = (hear: () => void): (() => void) => on("news", hear);
