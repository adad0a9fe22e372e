-- Days are stored as days since 1970-01-01, amounts as REAL in whole units, flags as 0 and 1.
-- Foreign keys are deferred: a row may be replaced by a newer version of itself within a transaction.
CREATE TABLE companies (
  id TEXT PRIMARY KEY NOT NULL,
  name TEXT NOT NULL,
  country TEXT NOT NULL,
  sector TEXT NOT NULL,
  industry TEXT NOT NULL,
  currency TEXT NOT NULL,
  fiscal_year_end_month INTEGER NOT NULL,
  kind TEXT NOT NULL,
  description TEXT NOT NULL,
  employees DOUBLE,
  founded INTEGER,
  lei TEXT NOT NULL
);

CREATE TABLE listings (
  symbol TEXT PRIMARY KEY NOT NULL,
  company_id TEXT NOT NULL REFERENCES companies (id) DEFERRABLE INITIALLY DEFERRED,
  mic TEXT NOT NULL,
  isin TEXT NOT NULL,
  currency TEXT NOT NULL,
  shares_per_unit DOUBLE NOT NULL,
  is_primary BOOLEAN NOT NULL,
  listed_on INTEGER,
  delisted_on INTEGER,
  delisting_return DOUBLE
);
CREATE INDEX listings_company ON listings (company_id);

-- A filing; its items are a checksummed, versioned chunk (see items.rs).
CREATE TABLE statements (
  company_id TEXT NOT NULL REFERENCES companies (id) DEFERRABLE INITIALLY DEFERRED,
  fiscal_year INTEGER NOT NULL,
  period TEXT NOT NULL,
  filed_on INTEGER NOT NULL,
  period_end INTEGER NOT NULL,
  currency TEXT NOT NULL,
  source TEXT NOT NULL,
  items BLOB NOT NULL,
  PRIMARY KEY (company_id, fiscal_year, period, filed_on)
) WITHOUT ROWID;

-- The bars of one listing and calendar year: a checksummed, versioned, columnar chunk (see bars.rs). With row ids, so
-- that a chunk lies within one page.
CREATE TABLE price_chunks (
  symbol TEXT NOT NULL REFERENCES listings (symbol) DEFERRABLE INITIALLY DEFERRED,
  year INTEGER NOT NULL,
  bars BLOB NOT NULL,
  PRIMARY KEY (symbol, year)
);

CREATE TABLE actions (
  symbol TEXT NOT NULL REFERENCES listings (symbol) DEFERRABLE INITIALLY DEFERRED,
  ex_date INTEGER NOT NULL,
  kind TEXT NOT NULL,
  ratio DOUBLE,
  amount DOUBLE,
  declared_on INTEGER,
  record_date INTEGER,
  pay_date INTEGER,
  PRIMARY KEY (symbol, ex_date, kind)
) WITHOUT ROWID;

-- fiscal_year 0 and an empty period stand for metrics that have none.
CREATE TABLE estimates (
  company_id TEXT NOT NULL REFERENCES companies (id) DEFERRABLE INITIALLY DEFERRED,
  published_on INTEGER NOT NULL,
  metric TEXT NOT NULL,
  fiscal_year INTEGER NOT NULL,
  period TEXT NOT NULL,
  mean DOUBLE NOT NULL,
  low DOUBLE,
  high DOUBLE,
  analysts DOUBLE,
  PRIMARY KEY (company_id, published_on, metric, fiscal_year, period)
) WITHOUT ROWID;

CREATE TABLE insider_trades (
  company_id TEXT NOT NULL REFERENCES companies (id) DEFERRABLE INITIALLY DEFERRED,
  filing_id TEXT NOT NULL,
  filed_on INTEGER NOT NULL,
  traded_on INTEGER NOT NULL,
  insider_id TEXT NOT NULL,
  insider_name TEXT NOT NULL,
  role TEXT NOT NULL,
  code TEXT NOT NULL,
  acquired BOOLEAN NOT NULL,
  shares DOUBLE NOT NULL,
  price DOUBLE NOT NULL,
  currency TEXT NOT NULL,
  shares_after DOUBLE,
  direct BOOLEAN NOT NULL,
  planned BOOLEAN NOT NULL,
  PRIMARY KEY (company_id, filing_id, insider_id, traded_on, code, acquired, shares, price, filed_on)
) WITHOUT ROWID;

CREATE TABLE ownership (
  company_id TEXT NOT NULL REFERENCES companies (id) DEFERRABLE INITIALLY DEFERRED,
  as_of INTEGER NOT NULL,
  filed_on INTEGER NOT NULL,
  insiders DOUBLE,
  controlling DOUBLE,
  institutions DOUBLE,
  pledged DOUBLE,
  PRIMARY KEY (company_id, as_of, filed_on)
) WITHOUT ROWID;

CREATE TABLE rates (
  date INTEGER NOT NULL,
  currency TEXT NOT NULL,
  series TEXT NOT NULL,
  value DOUBLE NOT NULL,
  PRIMARY KEY (currency, series, date)
) WITHOUT ROWID;

CREATE TABLE fx (
  date INTEGER NOT NULL,
  base TEXT NOT NULL,
  quote TEXT NOT NULL,
  rate DOUBLE NOT NULL,
  PRIMARY KEY (base, quote, date)
) WITHOUT ROWID;

-- What the dataset is: its name, its base currency.
CREATE TABLE settings (
  key TEXT PRIMARY KEY NOT NULL,
  value TEXT NOT NULL
);
