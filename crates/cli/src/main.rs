//! The `artemon` program: every use case from the terminal, and the server for the browser.

mod args;
mod cmd;
mod log;
mod output;

use args::{Cli, Command};
use std::process::ExitCode;

/// Two cores that read millions of rows wait for each other less than in the system's allocator.
#[global_allocator]
static MEMORY: mimalloc::MiMalloc = mimalloc::MiMalloc;

fn main() -> ExitCode {
    let cli = Cli::read();
    log::begin();
    match run(cli) {
        Ok(()) => ExitCode::SUCCESS,
        Err(error) => {
            eprintln!("{}", artemon_app::readable(&error.to_string()));
            if let Some(hint) = output::hint(&error) {
                eprintln!("{hint}");
            }
            ExitCode::from(1)
        }
    }
}

fn run(cli: Cli) -> anyhow::Result<()> {
    let shared = cli.shared;
    match cli.command {
        Command::Demo(a) => cmd::serve::demo(&shared, &a),
        Command::Serve(a) => cmd::serve::serve(&shared, &a),
        Command::User(a) => cmd::user::run(&shared, &a),
        Command::Feed(a) => cmd::serve::feed(&shared, &a),
        Command::Import(a) => cmd::transfer::import(&shared, &a),
        Command::Export(a) => cmd::transfer::export(&shared, &a),
        Command::Evaluate(a) => cmd::evaluate::run(&shared, a),
        Command::Screen(a) => cmd::screen::run(&shared, &a),
        Command::Value(a) => cmd::value::run(&shared, &a),
        Command::PriceBehaviour(a) => cmd::price_behaviour::run(&shared, &a),
        Command::Today(a) => cmd::today::run(&shared, &a),
        Command::Ledger(a) => cmd::ledger::run(&shared, &a),
        Command::Holdings(a) => cmd::holdings::run(&shared, &a),
        Command::Backtest(a) => cmd::backtest::run(&shared, &a),
        Command::ValueCheck(a) => cmd::backtest::check(&shared, &a),
        Command::Order(a) => cmd::order::run(&shared, &a),
        Command::Rank(a) => cmd::rank::run(&shared, &a),
        Command::Measures => cmd::measures::run(&shared),
        Command::Backup(a) => cmd::safety::backup(&shared, &a),
        Command::Restore(a) => cmd::safety::restore(&shared, &a),
        Command::Check => cmd::safety::check(&shared),
        Command::Doctor => cmd::safety::doctor(&shared),
    }
}
