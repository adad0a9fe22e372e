//! The whole route table on one screen.

use crate::{
    AppState, api, assets, auth,
    error::{PROBLEM, Problem},
    events, watched,
};
use axum::{
    Router,
    extract::DefaultBodyLimit,
    http::{StatusCode, header},
    middleware,
};
use tower_http::{
    CompressionLevel,
    compression::{
        CompressionLayer, Predicate,
        predicate::{DefaultPredicate, NotForContentType, SizeAbove},
    },
};
use utoipa::{
    OpenApi,
    openapi::{Content, ContentBuilder, Ref, RefOr, ResponseBuilder},
};
use utoipa_axum::{
    router::{OpenApiRouter, UtoipaMethodRouterExt},
    routes,
};

/// The largest statement of an account, in bytes.
const STATEMENT_BYTES: usize = 20 << 20;

#[derive(OpenApi)]
#[openapi(info(
    title = "Artemon",
    version = "0.1.0",
    description = "Screening, valuation and ranking for the long-term value investor.",
    license(name = "MIT OR Apache-2.0")
))]
struct Document;

/// Everything under `/api`, by area.
fn api() -> OpenApiRouter<AppState> {
    OpenApiRouter::with_openapi(Document::openapi())
        .merge(companies())
        .merge(valuing())
        .merge(screens())
        .merge(following())
        .merge(buying())
        .merge(testing())
        .merge(data())
        .merge(people())
}

/// Companies: found, read, with what is one's own of them.
fn companies() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(api::companies::search_companies))
        .routes(routes!(api::companies::company_groups))
        .routes(routes!(api::companies::company))
        .routes(routes!(api::companies::company_glance))
        .routes(routes!(api::evidence::company_peers))
        .routes(routes!(api::evidence::company_multiples))
        .routes(routes!(api::evidence::company_statement))
        .routes(routes!(api::evidence::company_workbook))
        .routes(routes!(api::evidence::company_solvency))
        .routes(routes!(api::evidence::company_cash))
        .routes(routes!(api::evidence::company_owners))
        .routes(routes!(api::evidence::company_after_purchases))
        .routes(routes!(api::evidence::company_quarters))
        .routes(routes!(api::evidence::company_change))
        .routes(routes!(api::evidence::company_price))
        .routes(routes!(api::evidence::company_stretch))
        .routes(routes!(api::own::company_note))
        .routes(routes!(api::own::save_company_note))
        .routes(routes!(api::own::company_cases))
        .routes(routes!(api::own::save_company_cases))
        .routes(routes!(api::own::work_out_cases))
        .routes(routes!(api::own::cases_record))
        .routes(routes!(api::companies::company_value))
        .routes(routes!(api::companies::company_value_with))
        .routes(routes!(api::companies::assume_of_company))
}

/// Measures, formulas and what is assumed.
fn valuing() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(api::measures::measures))
        .routes(routes!(api::measures::functions))
        .routes(routes!(api::measures::check_formula))
        .routes(routes!(api::measures::own_measures))
        .routes(routes!(api::measures::save_own_measure))
        .routes(routes!(api::measures::delete_own_measure))
        .routes(routes!(api::assumptions::assumption_sets))
        .routes(routes!(api::assumptions::save_assumptions))
        .routes(routes!(api::assumptions::use_assumptions))
        .routes(routes!(api::assumptions::delete_assumptions))
        .routes(routes!(api::assumptions::restore_assumptions))
        .routes(routes!(api::assumptions::assumptions_version))
        .routes(routes!(api::assumptions::quality_components))
        .routes(routes!(api::formulas::evaluate_formulas))
        .routes(routes!(api::formulas::formula_distribution))
        .routes(routes!(api::formulas::explain_figure))
        .routes(routes!(api::formulas::figure_standing))
        .routes(routes!(api::assumptions::repairs))
        .routes(routes!(api::assumptions::match_company))
}

/// Screens and candidates.
fn screens() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(api::screens::run_screen))
        .routes(routes!(api::screens::screen_page))
        .routes(routes!(api::screens::wall))
        .routes(routes!(api::screens::map))
        .routes(routes!(api::screens::medians))
        .routes(routes!(api::screens::screen_file))
        .routes(routes!(api::screens::passing_symbols))
        .routes(routes!(api::screens::compare_versions))
        .routes(routes!(api::screens::changes_since))
        .routes(routes!(api::screens::earlier_year))
        .routes(routes!(api::screens::run_saved))
        .routes(routes!(api::screens::ready_screens))
        .routes(routes!(api::screens::ready_columns))
        .routes(routes!(api::screens::read_criterion))
        .routes(routes!(api::screens::used_criteria))
        .routes(routes!(api::screens::read_number))
        .routes(routes!(api::candidates::rank_candidates))
        .routes(routes!(api::candidates::candidate_symbols))
        .routes(routes!(api::candidates::candidates_workbook))
}

/// What one decides, orders and holds.
fn buying() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(api::ledger::ledger))
        .routes(routes!(api::ledger::results))
        .routes(routes!(api::ledger::file))
        .routes(routes!(api::ledger::terms, api::ledger::save_terms))
        .routes(routes!(api::ledger::add_account))
        .routes(routes!(api::ledger::rename_account, api::ledger::remove_account))
        .routes(routes!(api::ledger::write_down))
        .routes(routes!(api::ledger::take_back))
        .routes(routes!(api::ledger::statement).layer(DefaultBodyLimit::max(STATEMENT_BYTES)))
        .routes(routes!(api::ledger::statements))
        .routes(routes!(api::ledger::undo_statement))
        .routes(routes!(api::ledger::order_sheet))
        .routes(routes!(api::ledger::order_fit))
        .routes(routes!(api::ledger::place_order))
        .routes(routes!(api::ledger::change_order, api::ledger::cancel_order))
        .routes(routes!(api::decisions::decisions))
        .routes(routes!(api::decisions::decide))
        .routes(routes!(api::decisions::decision))
        .routes(routes!(api::decisions::review))
}

/// What one follows: Today, lists, alerts, messages.
fn following() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(api::today::today))
        .routes(routes!(api::today::visit))
        .routes(routes!(api::today::seen))
        .routes(routes!(api::today::put_away))
        .routes(routes!(api::today::gauge))
        .routes(routes!(api::today::trades))
        .routes(routes!(api::today::layout))
        .routes(routes!(api::today::save_layout))
        .routes(routes!(api::lists::lists))
        .routes(routes!(api::lists::list_rows))
        .routes(routes!(api::lists::list_file))
        .routes(routes!(api::lists::match_pasted))
        .routes(routes!(api::lists::add_members))
        .routes(routes!(api::lists::remove_members))
        .routes(routes!(api::lists::restore_members))
        .routes(routes!(api::lists::move_members))
        .routes(routes!(api::lists::order_members))
        .routes(routes!(api::lists::save_member))
        .routes(routes!(api::lists::company_lists))
        .routes(routes!(api::lists::judge_soundness))
        .routes(routes!(api::alerts::alerts))
        .routes(routes!(api::alerts::preview_alert))
        .routes(routes!(api::alerts::unseen_alerts))
        .routes(routes!(api::alerts::see_alerts))
        .routes(routes!(api::alerts::mail_settings))
        .routes(routes!(api::alerts::save_mail_settings))
        .routes(routes!(api::alerts::test_mail))
        .routes(routes!(api::alerts::preview_digest))
        .routes(routes!(api::alerts::outbox))
        .routes(routes!(api::alerts::try_mails_now))
        .routes(routes!(api::alerts::mail_file))
        .routes(routes!(api::alerts::addresses))
        .routes(routes!(api::alerts::renew_address))
        .routes(routes!(api::alerts::calendar))
}

/// Whether it would have worked.
fn testing() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(api::backtests::backtests, api::backtests::ask_backtest))
        .routes(routes!(api::backtests::running_backtests))
        .routes(routes!(api::backtests::proposed_backtest))
        .routes(routes!(api::backtests::check_measure))
        .routes(routes!(api::backtests::backtest, api::backtests::name_backtest, api::backtests::delete_backtest))
        .routes(routes!(api::backtests::restore_backtest))
        .routes(routes!(api::backtests::cancel_backtest))
        .routes(routes!(api::backtests::backtest_variants))
        .routes(routes!(api::backtests::backtest_holdings))
        .routes(routes!(api::backtests::backtest_file))
        .routes(routes!(api::backtests::values_record, api::backtests::ask_values_record, api::backtests::give_up_values_record))
}

/// The dataset, documents, and what changes meanwhile.
fn data() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(api::about::about))
        .routes(routes!(api::data::dataset))
        .routes(routes!(api::data::dataset_companies))
        .routes(routes!(api::data::dataset_findings))
        .routes(routes!(api::data::upload_files).layer(DefaultBodyLimit::disable()))
        .routes(routes!(api::data::preview_file))
        .routes(routes!(api::data::concepts))
        .routes(routes!(api::data::map_concept))
        .routes(routes!(api::data::start_import))
        .routes(routes!(api::data::jobs))
        .routes(routes!(api::data::cancel_job))
        .routes(routes!(api::data::import_report_csv))
        .routes(routes!(api::data::export_dataset))
        .routes(routes!(api::data::feed))
        .routes(routes!(api::data::next_sessions))
        .routes(routes!(api::data::choose_feed))
        .routes(routes!(api::safety::safety))
        .routes(routes!(api::safety::copy_now))
        .routes(routes!(api::safety::copy_file))
        .routes(routes!(api::safety::restore_copy))
        .routes(routes!(api::documents::documents))
        .routes(routes!(api::documents::add_document))
        .routes(routes!(api::documents::document))
        .routes(routes!(api::documents::save_document))
        .routes(routes!(api::documents::delete_document))
        .routes(routes!(api::documents::restore_document))
        .routes(routes!(api::documents::document_file))
        .routes(routes!(events::events))
}

/// Who may use a server of several people, as whom, and what they let each other read.
fn people() -> OpenApiRouter<AppState> {
    OpenApiRouter::new()
        .routes(routes!(api::people::presence, api::people::sign_in, api::people::sign_out))
        .routes(routes!(api::people::confirm))
        .routes(routes!(api::people::invitation))
        .routes(routes!(api::people::join))
        .routes(routes!(api::people::account, api::people::leave))
        .routes(routes!(api::people::everything))
        .routes(routes!(api::people::change_passphrase))
        .routes(routes!(api::people::sign_out_elsewhere))
        .routes(routes!(api::people::end_session))
        .routes(routes!(api::people::begin_second_factor))
        .routes(routes!(api::people::turn_second_factor_on, api::people::turn_second_factor_off))
        .routes(routes!(api::people::new_recovery_codes))
        .routes(routes!(api::people::tokens, api::people::make_token))
        .routes(routes!(api::people::end_token))
        .routes(routes!(api::people::own_log))
        .routes(routes!(api::people::whole_log))
        .routes(routes!(api::people::persons))
        .routes(routes!(api::people::invite))
        .routes(routes!(api::people::withdraw_invitation))
        .routes(routes!(api::people::way_back))
        .routes(routes!(api::people::change_role))
        .routes(routes!(api::people::sign_person_out))
        .routes(routes!(api::people::remove_person))
        .routes(routes!(api::sharing::shares, api::sharing::share))
        .routes(routes!(api::sharing::shared, api::sharing::take_share_back))
        .routes(routes!(api::sharing::take_copy))
}

/// The description of the API. Every operation may be refused with a problem document, whatever the reason.
#[must_use]
pub fn openapi() -> utoipa::openapi::OpenApi {
    let mut described = api().into_openapi();
    let all = described.paths.paths.values_mut();
    for operation in all.flat_map(|path| [&mut path.get, &mut path.put, &mut path.post, &mut path.delete]).flatten() {
        let responses = &mut operation.responses.responses;
        for response in responses.values_mut() {
            if let RefOr::T(response) = response
                && response.content.get(JSON).is_some_and(is_problem)
                && let Some(content) = response.content.shift_remove(JSON)
            {
                response.content.insert(PROBLEM.to_owned(), content);
            }
        }
        for (status, sort) in [("4XX", "The request was refused"), ("5XX", "It could not be done")] {
            let content = ContentBuilder::new().schema(Some(Ref::from_schema_name("Problem"))).build();
            let refused = ResponseBuilder::new().description(sort).content(PROBLEM, content).build();
            responses.insert(status.to_owned(), RefOr::T(refused));
        }
    }
    described
}

const JSON: &str = "application/json";

fn is_problem(content: &RefOr<Content>) -> bool {
    matches!(content, RefOr::T(Content { schema: Some(RefOr::Ref(schema)), .. }) if schema.ref_location.ends_with("/Problem"))
}

pub(crate) fn router(state: AppState) -> Router {
    let (reach, home) = (state.reach.clone(), state.home.clone());
    let several = reach.shared;
    let mut routes: Router = Router::from(api().with_state(state.clone()));
    if reach.shared {
        routes = routes.layer(auth::sessions(&reach, &home));
    }
    let end = axum::routing::get(api::alerts::offer_end_of_digest).post(api::alerts::end_digest);
    let by_address =
        Router::new().route("/feeds/{name}", axum::routing::get(api::alerts::private)).route("/end/{token}", end).with_state(state);
    let text = openapi().to_json().unwrap_or_default();
    let document = move || async move { ([(header::CONTENT_TYPE, "application/json")], text) };
    routes
        .route("/api/openapi.json", axum::routing::get(document))
        .merge(by_address)
        .fallback(move |uri, headers| assets::file(uri, headers, several))
        .method_not_allowed_fallback(wrong_method)
        .layer(middleware::from_fn_with_state(reach, auth::own_pages_only))
        .layer(compression())
        .layer(middleware::from_fn(watched::watched))
}

/// Answers of this size are compressed, in bytes.
const LARGE: u64 = 100_000;

/// Large answers alone, and quickly: most stay on the machine, where sending is cheaper than compressing. What is an archive
/// already is left as it is.
fn compression() -> CompressionLayer<impl Predicate> {
    let large = SizeAbove::new(LARGE).and(DefaultPredicate::new());
    let archives = NotForContentType::const_new("application/zip").and(NotForContentType::const_new("application/vnd"));
    CompressionLayer::new().quality(CompressionLevel::Fastest).compress_when(large.and(archives))
}

async fn wrong_method() -> Problem {
    let sentence = "The endpoint is there, but not with this method. The list is at /api/openapi.json.";
    Problem::new(StatusCode::METHOD_NOT_ALLOWED, "wrong-method", sentence)
}
