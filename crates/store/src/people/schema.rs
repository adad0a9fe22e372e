//! The tables as the migrations make them, in Diesel's notation.

diesel::table! {
    persons (id) {
        id -> Text,
        name -> Text,
        created_at -> Text,
        revision -> BigInt,
    }
}

diesel::table! {
    documents (id) {
        id -> Text,
        person_id -> Text,
        kind -> Text,
        folder -> Text,
        name -> Text,
        version -> Integer,
        created_at -> Text,
        deleted_at -> Nullable<Text>,
    }
}

diesel::table! {
    document_versions (document_id, version) {
        document_id -> Text,
        version -> Integer,
        body -> Text,
        note -> Text,
        saved_at -> Text,
    }
}

diesel::table! {
    overrides (person_id, company_id) {
        person_id -> Text,
        company_id -> Text,
        symbol -> Text,
        isin -> Text,
        name -> Text,
        body -> Text,
        saved_at -> Text,
    }
}

diesel::table! {
    preferences (person_id, key) {
        person_id -> Text,
        key -> Text,
        value -> Text,
    }
}

diesel::table! {
    mappings (person_id, signature) {
        person_id -> Text,
        signature -> Text,
        mapping -> Text,
    }
}

diesel::table! {
    runs (document_id, as_of) {
        document_id -> Text,
        as_of -> Text,
        found -> Integer,
        ran_at -> Text,
    }
}

diesel::table! {
    visits (person_id) {
        person_id -> Text,
        since -> Nullable<Text>,
        seen -> Text,
        looked_at -> Text,
        ended_at -> Nullable<Text>,
    }
}

diesel::table! {
    put_away (person_id, line) {
        person_id -> Text,
        line -> Text,
        state -> Text,
        put_at -> Text,
    }
}

diesel::table! {
    worked (person_id) {
        person_id -> Text,
        session -> Text,
    }
}

diesel::table! {
    firings (person_id, alert_id, session, company_id) {
        person_id -> Text,
        alert_id -> Text,
        session -> Text,
        company_id -> Text,
        symbol -> Text,
        name -> Text,
        alert -> Text,
        sentence -> Text,
        fired_at -> Text,
        seen_at -> Nullable<Text>,
    }
}

diesel::table! {
    mails (id) {
        id -> Text,
        person_id -> Text,
        key -> Text,
        session -> Text,
        recipient -> Text,
        subject -> Text,
        text -> Text,
        html -> Text,
        made_at -> Text,
        sent_at -> Nullable<Text>,
        attempts -> Integer,
        next_at -> Nullable<Text>,
        problem -> Text,
    }
}

diesel::table! {
    addresses (token) {
        token -> Text,
        person_id -> Text,
        purpose -> Text,
        made_at -> Text,
        ends_at -> Text,
    }
}

diesel::joinable!(runs -> documents (document_id));
diesel::allow_tables_to_appear_in_same_query!(documents, document_versions, runs);

diesel::table! {
    accounts (id) {
        id -> Text,
        person_id -> Text,
        name -> Text,
        currency -> Text,
        kind -> Text,
        lots -> Text,
        made_at -> Text,
    }
}

diesel::table! {
    ledger_events (person_id, n) {
        person_id -> Text,
        n -> BigInt,
        account_id -> Text,
        date -> Text,
        body -> Text,
        key -> Text,
        made_at -> Text,
        import_id -> Nullable<Text>,
    }
}

diesel::table! {
    statement_imports (id) {
        id -> Text,
        person_id -> Text,
        account_id -> Text,
        file -> Text,
        imported_at -> Text,
    }
}

diesel::table! {
    broker_worked (person_id) {
        person_id -> Text,
        session -> Text,
    }
}

diesel::table! {
    decisions (id) {
        id -> Text,
        person_id -> Text,
        decided_on -> Text,
        company -> Text,
        order_name -> Nullable<Text>,
        body -> Text,
        made_at -> Text,
    }
}

diesel::table! {
    decision_reviews (decision_id, n) {
        decision_id -> Text,
        n -> Integer,
        body -> Text,
        made_at -> Text,
    }
}

diesel::joinable!(decision_reviews -> decisions (decision_id));
diesel::allow_tables_to_appear_in_same_query!(decisions, decision_reviews);

diesel::table! {
    backtests (id) {
        id -> Text,
        person_id -> Text,
        name -> Text,
        screen -> Text,
        settings -> Text,
        state -> Text,
        message -> Text,
        dataset -> Text,
        assumptions -> Text,
        version -> Text,
        asked_at -> Text,
        ended_at -> Nullable<Text>,
        deleted_at -> Nullable<Text>,
        summary -> Nullable<Text>,
        outcome -> Nullable<Binary>,
        variants -> Nullable<Text>,
    }
}

diesel::table! {
    credentials (person_id) {
        person_id -> Text,
        key -> Text,
        role -> Text,
        passphrase -> Text,
        changed_at -> Text,
        second_factor -> Text,
        used_step -> BigInt,
    }
}

diesel::joinable!(credentials -> persons (person_id));
diesel::allow_tables_to_appear_in_same_query!(credentials, persons);

diesel::table! {
    recovery_codes (person_id, hash) {
        person_id -> Text,
        hash -> Text,
    }
}

diesel::table! {
    sessions (hash) {
        hash -> Text,
        id -> Text,
        person_id -> Text,
        made_at -> Text,
        seen_at -> Text,
        confirmed_at -> Text,
        address -> Text,
        browser -> Text,
    }
}

diesel::table! {
    devices (hash) {
        hash -> Text,
        person_id -> Text,
        made_at -> Text,
    }
}

diesel::table! {
    invitations (hash) {
        hash -> Text,
        id -> Text,
        person_id -> Nullable<Text>,
        role -> Text,
        second_factor_lost -> Bool,
        note -> Text,
        made_by -> Nullable<Text>,
        made_at -> Text,
        ends_at -> Text,
    }
}

diesel::table! {
    access_tokens (hash) {
        hash -> Text,
        id -> Text,
        person_id -> Text,
        name -> Text,
        scopes -> Text,
        made_at -> Text,
        ends_at -> Text,
        used_at -> Nullable<Text>,
    }
}

diesel::table! {
    audit (n) {
        n -> BigInt,
        at -> Text,
        person_id -> Text,
        name -> Text,
        what -> Text,
        about -> Text,
        address -> Text,
    }
}

diesel::table! {
    shares (token) {
        token -> Text,
        person_id -> Text,
        kind -> Text,
        object_id -> Text,
        shared_at -> Text,
    }
}

diesel::joinable!(shares -> persons (person_id));
diesel::allow_tables_to_appear_in_same_query!(shares, persons);
