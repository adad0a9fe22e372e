//! `user`: links for people of a shared server, made by whoever has the machine.

use crate::args::{Folder, Shared, UserArgs, UserCommand};
use artemon_app::{Home, Role, WayBack, at_the_terminal};

pub(crate) fn run(shared: &Shared, args: &UserArgs) -> anyhow::Result<()> {
    let home = Home::open(shared.options(Folder::Data)?)?;
    let path = match &args.command {
        UserCommand::Add { owner, note } => at_the_terminal(&home, if *owner { Role::Owner } else { Role::Member }, None, note)?,
        UserCommand::WayBack { name, second_factor_lost } => {
            at_the_terminal(&home, Role::Member, Some((name, WayBack { second_factor_lost: *second_factor_lost })), "")?
        }
    };
    println!("{path}");
    eprintln!(
        "Put the address of the server before it, as in https://artemon.example{path}, and send it over a way that nobody else reads."
    );
    Ok(())
}
