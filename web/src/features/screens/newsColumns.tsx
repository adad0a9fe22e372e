// Columns of what was said last of a company, and of what its sector did that day. They stand aside until asked for.
import type { ScreenRow } from "../../api/client";
import type { Column } from "../../components/table/model";
import { day, percent, percentBare } from "../../headless/format";

export const NEWS = ["news", "sector that day"];

const change = (of: number | null | undefined) => (of == null ? null : `${of > 0 ? "+" : ""}${percentBare(of)}`);

/** A headline about a company, whose name stands in the row already. */
const withoutName = (text: string, name: string) =>
  text.startsWith(`${name} `) ? `… ${text.slice(name.length + 1)}` : text;

/** "Headline. Source, 3 Jun 2025. In the session after it the share changed by −8.2 %, the median of its sector by −6.1 %" */
function inFull({ news }: ScreenRow): string | null {
  if (!news) return "Nothing was published about it.";
  const { text, source, published_on } = news.headline;
  const said = [source, published_on && day(published_on)].filter(Boolean).join(", ");
  const own = news.change == null ? null : `the share changed by ${percent(news.change)}`;
  const sector = news.sector_change == null ? null : `the median of its sector by ${percent(news.sector_change)}`;
  const then = [own, sector].filter(Boolean).join(", ");
  return [text, said, then && `In the session after it ${then}`].filter(Boolean).join(". ");
}

export const newsColumns: Column<ScreenRow>[] = [
  {
    id: "news",
    label: "Newest headline",
    meaning: "What was published last about the company by the date, and when.",
    width: 300,
    aside: true,
    cell: ({ name, news }) =>
      news ? (
        <>
          <span className="faint">{news.headline.published_on && day(news.headline.published_on)}</span>{" "}
          {withoutName(news.headline.text, name)}
        </>
      ) : (
        <span className="faint">–</span>
      ),
    text: ({ news }) => news?.headline.text ?? "",
    tip: inFull,
  },
  {
    id: "sector that day",
    label: "Share, sector then",
    hint: "%",
    meaning:
      "How the price, and the median of the companies of its sector, changed in the first session that could answer the headline.",
    width: 96,
    align: "end",
    aside: true,
    cell: ({ news }) =>
      news?.change == null ? (
        <span className="faint">–</span>
      ) : (
        <>
          {change(news.change)} <span className="faint">· {change(news.sector_change) ?? "–"}</span>
        </>
      ),
    text: ({ news }) => `${news?.change ?? ""} ${news?.sector_change ?? ""}`.trim(),
    tip: inFull,
  },
];
