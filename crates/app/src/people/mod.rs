//! Who may use a shared server and as whom: signing in, invitations, access tokens, and what is written down of it.

mod account;
mod attempts;
mod audit;
mod bounds;
mod departure;
mod everything;
mod invitations;
mod passphrase;
mod persons;
mod second_factor;
mod secret;
mod sessions;
mod sign_in;
mod tokens;

pub use account::{Account, ChangePassphrase, Confirm, account, change_passphrase, confirm, end_session, sign_out_elsewhere};
pub(crate) use attempts::Attempts;
pub use audit::{AuditEntry, AuditPage, AuditRequest, audit_log};
pub(crate) use audit::{noted, with_entry};
pub(crate) use bounds::{room_for_a_backtest, room_for_a_document, room_for_a_version};
pub use departure::{Leave, Left, leave, remove_person};
pub use everything::everything_into;
pub use invitations::{
    Invitation, InvitationEntry, Invite, Join, WayBack, at_the_terminal, first_owner, invitation, invite, join, way_back,
    withdraw_invitation,
};
pub(crate) use persons::is_owner;
pub use persons::{PersonEntry, Persons, Role, RoleChange, admit, change_role, persons, sign_person_out};
pub use second_factor::{
    BeginSecondFactor, RecoveryCodes, TurnOn, begin_second_factor, new_recovery_codes, turn_second_factor_off, turn_second_factor_on,
};
pub(crate) use secret::hash;
pub use sessions::{SessionEntry, Signed, end_session_of_cookie, keep_session, session_goes_on, session_of_cookie};
pub use sign_in::{Presence, SignIn, SignedIn, Who, presence, sign_in, signed_in_anew, signed_out};
pub use tokens::{NewToken, Scope, TokenEntry, TokenMade, end_token, make_token, token_holder, tokens};

/// From where a request comes.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Visitor {
    /// The address of the machine.
    pub address: String,
    /// What the browser calls itself.
    pub browser: String,
    /// The cookie by which a browser is known in which somebody signed in before.
    pub device: Option<String>,
}
