// Columns of companies that several places share.
import { lazy } from "react";
import type { Column } from "../../components/table/model";
import { verdict } from "../../headless/verdicts";

const CompanyCard = lazy(async () => ({ default: (await import("./CompanyCard")).CompanyCard }));

/** The name, shortened before the symbol is. */
export function companyColumn<T extends { symbol: string; name: string }>(
  address: (path: string) => string,
): Column<T> {
  const href = (row: T) => address(`/companies/${row.symbol}`);
  return {
    id: "company",
    label: "Company",
    width: 176,
    grows: true,
    cell: (row) => (
      <span className="named">
        <a href={href(row)} tabIndex={-1}>
          {row.name}
        </a>
        <span className="faint">{row.symbol}</span>
      </span>
    ),
    text: (row) => `${row.name} ${row.symbol}`,
    tip: (row) => <CompanyCard symbol={row.symbol} name={row.name} />,
    href,
    own: true,
  };
}

/** The verdict in its colour. */
export function verdictColumn<T extends { verdict: string }>(sorts: "ascending" | "descending"): Column<T> {
  return {
    id: "verdict",
    label: "Verdict",
    meaning: "By price, value and quality",
    width: 92,
    sorts,
    cell: (row) => {
      const [words, colour] = verdict(row.verdict);
      return (
        <span className="strong" style={{ color: colour }}>
          {words}
        </span>
      );
    },
    text: (row) => row.verdict,
  };
}
