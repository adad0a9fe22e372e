//! The words of the command line.

use artemon_app::{Ctx, DAILY, Home, Options, UPLOAD_BYTES};
use artemon_core::{
    domain::{Currency, Day, Table},
    filings::Taxonomy,
    ledger::Good,
};
use clap::{Args, Parser, Subcommand, ValueEnum};
use std::{
    net::{IpAddr, SocketAddr},
    path::PathBuf,
};
use url::Url;

/// Screening, valuation and ranking for the long-term value investor, on your own machine.
#[derive(Debug, Parser)]
#[command(name = "artemon", version)]
pub(crate) struct Cli {
    #[command(flatten)]
    pub(crate) shared: Shared,
    #[command(subcommand)]
    pub(crate) command: Command,
}

/// What every command takes.
#[derive(Debug, Args)]
pub(crate) struct Shared {
    /// The data folder (default: the platform's data folder)
    #[arg(long, global = true, value_name = "DIR", env = "ARTEMON_DATA")]
    data: Option<PathBuf>,
    /// The demo world's folder, which `artemon demo` fills
    #[arg(long, global = true, conflicts_with = "data")]
    demo: bool,
    /// The base currency of whole-company amounts (default: that of the dataset)
    #[arg(long, global = true, value_name = "CCY")]
    base: Option<Currency>,
    /// How to print
    #[arg(long, global = true, value_enum, default_value_t = Format::Table)]
    pub(crate) format: Format,
}

/// How results are printed.
#[derive(Clone, Copy, Debug, PartialEq, Eq, ValueEnum)]
pub(crate) enum Format {
    Table,
    Csv,
    Json,
}

impl Cli {
    /// Reads the words of the command line; a formula may begin with a minus.
    pub(crate) fn read() -> Cli {
        Cli::parse_from(std::env::args().map(|word| if is_negative_formula(&word) { format!(" {word}") } else { word }))
    }
}

/// `-pe` or `-2 ^ 2`, but neither `-h` nor `--symbols`.
fn is_negative_formula(word: &str) -> bool {
    word.len() > 2 && word.starts_with('-') && !word.starts_with("--")
}

fn taxonomy(word: &str) -> Result<Taxonomy, String> {
    Taxonomy::of(word).ok_or_else(|| "it is us-gaap or ifrs-full".to_owned())
}

#[allow(clippy::unnecessary_wraps)] // the form that clap asks for
fn trimmed(word: &str) -> Result<String, std::convert::Infallible> {
    Ok(word.trim().to_owned())
}

/// Which of the platform's folders, where none is named.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Folder {
    /// One's own data.
    Data,
    /// The demo world.
    Demo,
}

impl Shared {
    /// The data folder; the demo world keeps its own.
    pub(crate) fn folder(&self, folder: Folder) -> anyhow::Result<PathBuf> {
        if let Some(folder) = &self.data {
            return Ok(folder.clone());
        }
        let folders = directories::ProjectDirs::from("", "", "artemon");
        let folders = folders.ok_or_else(|| anyhow::anyhow!("This system has no data folder. Choose one with --data DIR."))?;
        let demo = self.demo || folder == Folder::Demo;
        Ok(folders.data_dir().join(if demo { "demo" } else { "data" }))
    }

    /// Opens the dataset to read it, as the person at this machine; a server may be running on it.
    pub(crate) fn open(&self) -> anyhow::Result<Ctx> {
        Ok(Home::open_to_read(self.options(Folder::Data)?)?.local_ctx()?)
    }

    /// Opens the folder to write it, which one program at a time does.
    pub(crate) fn to_write(&self) -> anyhow::Result<Ctx> {
        Ok(Home::open(self.options(Folder::Data)?)?.local_ctx()?)
    }

    pub(crate) fn options(&self, folder: Folder) -> anyhow::Result<Options> {
        Ok(Options { folder: self.folder(folder)?, base: self.base, ..Options::default() })
    }
}

#[derive(Debug, Subcommand)]
pub(crate) enum Command {
    /// Start with the invented demo world
    Demo(DemoArgs),
    /// Start the server on your own dataset
    Serve(ServeArgs),
    /// Links for people of a shared server, where no owner can make one
    User(UserArgs),
    /// Hand out the sessions of the demo world, as a data provider would
    Feed(FeedArgs),
    /// Import Data Packages or CSV files
    Import(ImportArgs),
    /// Export the dataset or a part of it
    Export(ExportArgs),
    /// Answer formulas for companies
    Evaluate(EvaluateArgs),
    /// Run a screen
    Screen(ScreenArgs),
    /// Value one company
    Value(ValueArgs),
    /// Rank buy candidates
    Rank(RankArgs),
    /// What happened between two days: prices to act on, insiders, lows, screens, dates, verdicts, the market
    Today(TodayArgs),
    /// Accounts, orders and what came of them
    Ledger(LedgerArgs),
    /// What is held, with cost, worth and gain
    Holdings(HoldingsArgs),
    /// Would a screen have worked? A backtest of a file, a kept backtest or a screen
    Backtest(BacktestArgs),
    /// Does a measure tell what follows? Fifths of the universe by it
    ValueCheck(ValueCheckArgs),
    /// Orders for the simulated broker: list, buy, sell, cancel
    Order(OrderArgs),
    /// Turns, levels, gaps and candles of prices, insiders' trades and what followed them
    PriceBehaviour(BehaviourArgs),
    /// List all measures
    Measures,
    /// Copy the data folder, perhaps while a server runs on it
    Backup(BackupArgs),
    /// Put a backup or a copy of what is your own back; what is there is kept
    Restore(RestoreArgs),
    /// Look for damage at every page and every row
    Check,
    /// Say what is where, how large and how healthy
    Doctor,
}

#[derive(Debug, Args)]
pub(crate) struct UserArgs {
    #[command(subcommand)]
    pub(crate) command: UserCommand,
}

#[derive(Debug, Subcommand)]
pub(crate) enum UserCommand {
    /// Print a link by which somebody comes in
    Add {
        /// As one who brings data and says who may sign in
        #[arg(long)]
        owner: bool,
        /// For whom
        #[arg(long, default_value = "")]
        note: String,
    },
    /// Print a link by which somebody chooses another passphrase who has lost theirs
    WayBack {
        /// By which they sign in
        name: String,
        /// The second factor is lost, too: it is not asked for any more
        #[arg(long)]
        second_factor_lost: bool,
    },
}

#[derive(Debug, Args)]
pub(crate) struct BackupArgs {
    /// A folder that is not there yet
    pub(crate) to: PathBuf,
    /// Only what is your own: the dataset can be imported again
    #[arg(long)]
    pub(crate) people_only: bool,
}

#[derive(Debug, Args)]
pub(crate) struct RestoreArgs {
    /// A folder that `backup` made, or a file of the folder copies
    pub(crate) from: PathBuf,
}

#[derive(Debug, Args)]
pub(crate) struct DemoArgs {
    #[command(flatten)]
    pub(crate) serve: ServeArgs,
    /// How many companies the world has (default 1200)
    #[arg(long, value_name = "N", value_parser = clap::value_parser!(u32).range(10..=60_000))]
    pub(crate) companies: Option<u32>,
    /// Make the world anew
    #[arg(long)]
    pub(crate) reset: bool,
}

#[derive(Debug, Args)]
pub(crate) struct BacktestArgs {
    /// A backtest's file (docs/backtests.md), a kept backtest, or a screen by name
    pub(crate) backtest: String,
}

#[derive(Debug, Args)]
pub(crate) struct ValueCheckArgs {
    /// A value check's file (docs/backtests.md), or a formula
    #[arg(value_parser = trimmed)]
    pub(crate) check: String,
    /// The first date (default: fifteen years ago, as far as the data go back)
    #[arg(long)]
    pub(crate) from: Option<Day>,
    /// The last date (default: the newest session)
    #[arg(long)]
    pub(crate) to: Option<Day>,
    /// Months between dates: 1, 3, 6 or 12
    #[arg(long, default_value_t = 3)]
    pub(crate) every: u32,
}

#[derive(Debug, Args)]
pub(crate) struct FeedArgs {
    /// Address and port; port 0 takes a free one
    #[arg(long, value_name = "ADDR", default_value = "127.0.0.1:8019")]
    pub(crate) listen: SocketAddr,
    /// How many companies the world has (default: those of the demo world's folder)
    #[arg(long, value_name = "N", value_parser = clap::value_parser!(u32).range(10..=60_000))]
    pub(crate) companies: Option<u32>,
}

#[derive(Debug, Args)]
pub(crate) struct ServeArgs {
    /// Address and port; port 0 takes a free one
    #[arg(long, value_name = "ADDR", default_value = "127.0.0.1:8017")]
    pub(crate) listen: SocketAddr,
    /// How many megabytes the browser may bring at once
    #[arg(long, value_name = "MB", default_value_t = UPLOAD_BYTES >> 20)]
    pub(crate) upload_limit: u64,
    /// How many daily copies of what is your own are kept; 0 makes none
    #[arg(long, value_name = "N", default_value_t = DAILY)]
    pub(crate) copies: usize,
    #[command(flatten)]
    pub(crate) sharing: SharingArgs,
}

/// How several people reach the server (docs/security.md).
#[derive(Debug, Args)]
pub(crate) struct SharingArgs {
    /// For several people: each signs in, by invitation
    #[arg(long)]
    pub(crate) shared: bool,
    /// The address under which people open it, like https://artemon.example
    #[arg(long, value_name = "URL", requires = "shared")]
    pub(crate) url: Option<Url>,
    /// The certificate with which connections are encrypted, and those that vouch for it, in PEM
    #[arg(long, value_name = "FILE", requires_all = ["tls_key", "shared"])]
    pub(crate) tls_cert: Option<PathBuf>,
    /// The private key of the certificate, in PEM
    #[arg(long, value_name = "FILE", requires = "tls_cert")]
    pub(crate) tls_key: Option<PathBuf>,
    /// The address of the proxy that encrypts, and says for whom it asks with X-Forwarded-For
    #[arg(long, value_name = "IP", requires = "shared", conflicts_with = "tls_cert")]
    pub(crate) behind_proxy: Option<IpAddr>,
    /// Everybody must have a second factor: whoever has none turns it on before anything else
    #[arg(long, requires = "shared")]
    pub(crate) second_factor: bool,
    /// Let others reach it though nothing is encrypted: for a network on which nobody else can listen
    #[arg(long, requires = "shared", conflicts_with_all = ["tls_cert", "behind_proxy"])]
    pub(crate) unencrypted: bool,
}

/// The order in which dates are written.
#[derive(Clone, Copy, Debug, clap::ValueEnum)]
pub(crate) enum Order {
    Ymd,
    Dmy,
    Mdy,
}

#[derive(Debug, Args)]
pub(crate) struct ImportArgs {
    /// Data Packages, CSV files, filings, regulators' bulk files, or folders of them, all in one transaction
    #[arg(required = true)]
    pub(crate) paths: Vec<PathBuf>,
    /// Take the good rows and report the others
    #[arg(long)]
    pub(crate) skip_bad_rows: bool,
    /// The table that a CSV file holds (default: guessed from its header)
    #[arg(long)]
    pub(crate) table: Option<Table>,
    /// A column of the table filled from a header of the CSV file, as in close=Last or close=Last/100
    #[arg(long = "map", value_name = "COLUMN=HEADER")]
    pub(crate) maps: Vec<String>,
    /// A column of the table with one value for all rows, as in symbol=QRW
    #[arg(long = "set", value_name = "COLUMN=VALUE")]
    pub(crate) sets: Vec<String>,
    /// A file that says how columns are taken, as JSON (docs/data.md)
    #[arg(long, value_name = "FILE")]
    pub(crate) mapping: Option<PathBuf>,
    /// The order of dates in tables, where it cannot be told: ymd, dmy or mdy
    #[arg(long, value_enum)]
    pub(crate) dates: Option<Order>,
    /// A column of values and what they are of, a currency or a series of rates, as in "10 Yr=government_10y_yield"
    #[arg(long = "values", value_name = "HEADER=CODE")]
    pub(crate) values: Vec<String>,
    /// The values are percentages
    #[arg(long)]
    pub(crate) percent: bool,
    /// The values are averages of months, known at their ends
    #[arg(long)]
    pub(crate) monthly: bool,
    /// The values are levels of prices: their change over twelve months is taken, known at the end of the following month
    #[arg(long)]
    pub(crate) levels: bool,
    /// Of a series of observations only those with this value of a dimension, as in MATURITY_CAT=CI
    #[arg(long = "where", value_name = "DIMENSION=VALUE")]
    pub(crate) chosen: Vec<String>,
    /// Prices are divided by this: of one file, as in QRW.csv=100, or of all
    #[arg(long, value_name = "FILE=NUMBER")]
    pub(crate) divide: Vec<String>,
    /// The day on which filings became public, where no filings.csv beside them tells
    #[arg(long, value_name = "DATE")]
    pub(crate) filed_on: Option<Day>,
    /// The company whose filings they are, by symbol, ISIN or key, where their identifiers do not tell
    #[arg(long, value_name = "COMPANY")]
    pub(crate) company: Option<String>,
    /// The reference to the document (default: the file's name)
    #[arg(long)]
    pub(crate) source: Option<String>,
    /// Of bulk files only these companies: symbols, ISINs, keys or numbers of the register, separated by commas
    #[arg(long, value_delimiter = ',', value_name = "COMPANY")]
    pub(crate) only: Vec<String>,
    /// Leave out filers of bulk files that no company is known of, instead of making companies of them
    #[arg(long)]
    pub(crate) known_only: bool,
    /// The item that a company's own concept is, remembered; with a minus before the item where it counts the other way
    #[arg(long = "concept", value_name = "{NAMESPACE}NAME=ITEM")]
    pub(crate) concepts: Vec<String>,
}

#[derive(Debug, Args)]
pub(crate) struct ExportArgs {
    /// A folder that is new or empty, a .zip, a workbook as .xlsx, or a .csv for one table
    pub(crate) path: PathBuf,
    /// Only these tables, separated by commas
    #[arg(long = "table", value_delimiter = ',')]
    pub(crate) tables: Vec<Table>,
    /// Only these companies: symbols, ISINs or ids, separated by commas
    #[arg(long, value_delimiter = ',')]
    pub(crate) symbols: Vec<String>,
    /// As Parquet files for query engines: a folder a table, prices by year
    #[arg(long)]
    pub(crate) parquet: bool,
    /// The filings as xBRL-JSON with the concepts of a taxonomy, us-gaap or ifrs-full: a file each, in a folder or a .zip
    #[arg(long, value_name = "TAXONOMY", num_args = 0..=1, require_equals = true, default_missing_value = "ifrs-full",
        value_parser = taxonomy, conflicts_with = "parquet")]
    pub(crate) xbrl_json: Option<Taxonomy>,
    /// With --parquet every measure of every company as of these days too, separated by commas
    #[arg(long, value_delimiter = ',', value_name = "DATE", requires = "parquet")]
    pub(crate) measures: Vec<Day>,
}

#[derive(Debug, Args)]
pub(crate) struct EvaluateArgs {
    /// One formula or more
    #[arg(long = "formula", value_name = "F", required = true, num_args = 1.., value_parser = trimmed)]
    pub(crate) formulas: Vec<String>,
    /// Symbols, ISINs or ids, separated by commas (default: all listed companies)
    #[arg(long, value_delimiter = ',')]
    pub(crate) symbols: Vec<String>,
    /// The date, like 2024-06-30 (default: the newest session)
    #[arg(long, value_name = "D")]
    pub(crate) as_of: Option<Day>,
    /// Open each answer: formula, inputs, rules and filings (for the companies named by --symbols)
    #[arg(long, requires = "symbols")]
    pub(crate) explain: bool,
}

#[derive(Debug, Args)]
pub(crate) struct ScreenArgs {
    /// A screen's JSON file, or the name of a ready-made screen
    pub(crate) screen: String,
    /// The date, like 2024-06-30 (default: the screen's own, else the newest session)
    #[arg(long, value_name = "D")]
    pub(crate) as_of: Option<Day>,
}

#[derive(Debug, Args)]
pub(crate) struct TodayArgs {
    /// A JSON document with the two days, whom one follows and the screens, as docs/today.md describes it
    pub(crate) file: PathBuf,
}

#[derive(Debug, Args)]
pub(crate) struct LedgerArgs {
    #[command(subcommand)]
    pub(crate) command: LedgerCommand,
}

#[derive(Debug, Subcommand)]
pub(crate) enum LedgerCommand {
    /// Works a document of deposits, orders and trades with the simulated broker, and tells the journal and the accounts
    Replay {
        /// A JSON document of accounts and entries, as docs/ledger.md describes it
        file: PathBuf,
    },
    /// Opens an account
    Open {
        /// Its name, unlike that of any other
        name: String,
        /// Of its cash
        #[arg(long)]
        currency: Currency,
        /// What is in it at first
        #[arg(long, default_value_t = 0.0)]
        deposit: f64,
        /// What happens in it is recorded; otherwise the simulated broker works its orders
        #[arg(long)]
        by_hand: bool,
    },
    /// Holds a statement of a broker, OFX or CSV, against the journal, and takes it in with --take
    Statement {
        /// The file
        file: PathBuf,
        /// The account by its name
        #[arg(long, value_name = "NAME")]
        account: String,
        /// Take in what is new
        #[arg(long)]
        take: bool,
    },
}

#[derive(Debug, Args)]
pub(crate) struct HoldingsArgs {
    /// The date, like 2024-06-30 (default: the newest session)
    #[arg(long, value_name = "D")]
    pub(crate) as_of: Option<Day>,
}

#[derive(Debug, Args)]
pub(crate) struct OrderArgs {
    #[command(subcommand)]
    pub(crate) command: OrderCommand,
}

#[derive(Debug, Subcommand)]
pub(crate) enum OrderCommand {
    /// Orders that work, and what became of the others
    List,
    /// Gives an order to buy, which works from the next session on
    Buy(TermsArgs),
    /// Gives an order to sell, which works from the next session on
    Sell(TermsArgs),
    /// Cancels an order that works
    Cancel {
        /// Its name, like B12
        order: String,
    },
}

#[derive(Debug, Args)]
pub(crate) struct TermsArgs {
    /// A symbol, ISIN or id
    pub(crate) symbol: String,
    /// In the listing's currency (default: the price to pay, or the last close where that is lower)
    #[arg(long, value_name = "P", conflicts_with = "market")]
    pub(crate) limit: Option<f64>,
    /// At the open of the next session, whatever the price
    #[arg(long)]
    pub(crate) market: bool,
    /// How many shares
    #[arg(long, value_name = "N", required_unless_present = "amount", conflicts_with = "amount")]
    pub(crate) shares: Option<f64>,
    /// For how much, in the account's currency
    #[arg(long, value_name = "X")]
    pub(crate) amount: Option<f64>,
    /// The account by its name (default: the only simulated one)
    #[arg(long, value_name = "NAME")]
    pub(crate) account: Option<String>,
    /// "day", "until_cancelled" or a day
    #[arg(long, value_name = "G", default_value = "day")]
    pub(crate) good: Good,
    /// Sell what is bought at this price
    #[arg(long, value_name = "P")]
    pub(crate) sell_at: Option<f64>,
    /// Why, in your words
    #[arg(long, value_name = "TEXT")]
    pub(crate) thesis: Option<String>,
    /// A limit far from the price is meant
    #[arg(long)]
    pub(crate) sure: bool,
    /// Say what it would come to, and give no order
    #[arg(long)]
    pub(crate) dry_run: bool,
}

#[derive(Debug, Args)]
pub(crate) struct BehaviourArgs {
    /// Symbols, ISINs or ids (default: all listed companies)
    pub(crate) symbols: Vec<String>,
    /// The date, like 2024-06-30 (default: the newest session)
    #[arg(long, value_name = "D")]
    pub(crate) as_of: Option<Day>,
}

#[derive(Debug, Args)]
pub(crate) struct ValueArgs {
    /// Symbol, ISIN or id
    pub(crate) symbol: String,
    /// The date, like 2024-06-30 (default: the newest session)
    #[arg(long, value_name = "D")]
    pub(crate) as_of: Option<Day>,
    /// The assumption set (default: that in use)
    #[arg(long = "set", value_name = "NAME")]
    pub(crate) assumptions: Option<String>,
}

#[derive(Debug, Args)]
pub(crate) struct RankArgs {
    /// Symbols, ISINs or ids, separated by commas (default: all listed companies but funds)
    #[arg(long, value_delimiter = ',', conflicts_with = "screen")]
    pub(crate) symbols: Vec<String>,
    /// Only the survivors of this screen: a JSON file or the name of a ready-made one
    #[arg(long)]
    pub(crate) screen: Option<String>,
    /// Required margin of safety, like 0.25
    #[arg(long)]
    pub(crate) margin: Option<f64>,
    /// Minimum quality of a company to buy, 0 to 100
    #[arg(long, value_name = "Q")]
    pub(crate) quality: Option<f64>,
    /// The date, like 2024-06-30 (default: the newest session)
    #[arg(long, value_name = "D")]
    pub(crate) as_of: Option<Day>,
    /// Rank the members of this index
    #[arg(long, value_name = "ID")]
    pub(crate) index: Option<String>,
    /// Rank the companies on this list of yours
    #[arg(long, value_name = "NAME")]
    pub(crate) list: Option<String>,
    /// The assumption set (default: that in use)
    #[arg(long = "set", value_name = "NAME")]
    pub(crate) assumptions: Option<String>,
    /// Write the first two hundred as a workbook with live formulas
    #[arg(long, value_name = "FILE")]
    pub(crate) xlsx: Option<PathBuf>,
}
