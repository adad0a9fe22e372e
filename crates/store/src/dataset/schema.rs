// The tables as the migrations make them, in Diesel's notation.

diesel::table! {
    companies (id) {
        id -> Text,
        name -> Text,
        country -> Text,
        sector -> Text,
        industry -> Text,
        currency -> Text,
        fiscal_year_end_month -> Integer,
        kind -> Text,
        description -> Text,
        employees -> Nullable<Double>,
        founded -> Nullable<Integer>,
        lei -> Text,
    }
}

diesel::table! {
    listings (symbol) {
        symbol -> Text,
        company_id -> Text,
        mic -> Text,
        isin -> Text,
        currency -> Text,
        shares_per_unit -> Double,
        is_primary -> Bool,
        listed_on -> Nullable<Integer>,
        delisted_on -> Nullable<Integer>,
        delisting_return -> Nullable<Double>,
    }
}

diesel::table! {
    statements (company_id, fiscal_year, period, filed_on) {
        company_id -> Text,
        fiscal_year -> Integer,
        period -> Text,
        filed_on -> Integer,
        period_end -> Integer,
        currency -> Text,
        source -> Text,
        items -> Binary,
    }
}

diesel::table! {
    price_chunks (symbol, year) {
        symbol -> Text,
        year -> Integer,
        bars -> Binary,
    }
}

diesel::table! {
    actions (symbol, ex_date, kind) {
        symbol -> Text,
        ex_date -> Integer,
        kind -> Text,
        ratio -> Nullable<Double>,
        amount -> Nullable<Double>,
        declared_on -> Nullable<Integer>,
        record_date -> Nullable<Integer>,
        pay_date -> Nullable<Integer>,
    }
}

diesel::table! {
    estimates (company_id, published_on, metric, fiscal_year, period) {
        company_id -> Text,
        published_on -> Integer,
        metric -> Text,
        fiscal_year -> Integer,
        period -> Text,
        mean -> Double,
        low -> Nullable<Double>,
        high -> Nullable<Double>,
        analysts -> Nullable<Double>,
    }
}

diesel::table! {
    insider_trades (company_id, filing_id, insider_id, traded_on, code, acquired, shares, price, filed_on) {
        company_id -> Text,
        filing_id -> Text,
        filed_on -> Integer,
        traded_on -> Integer,
        insider_id -> Text,
        insider_name -> Text,
        role -> Text,
        code -> Text,
        acquired -> Bool,
        shares -> Double,
        price -> Double,
        currency -> Text,
        shares_after -> Nullable<Double>,
        direct -> Bool,
        planned -> Bool,
        superseded_on -> Nullable<Integer>,
    }
}

diesel::table! {
    ownership (company_id, as_of, filed_on) {
        company_id -> Text,
        as_of -> Integer,
        filed_on -> Integer,
        insiders -> Nullable<Double>,
        controlling -> Nullable<Double>,
        institutions -> Nullable<Double>,
        pledged -> Nullable<Double>,
    }
}

diesel::table! {
    rates (currency, series, date) {
        date -> Integer,
        currency -> Text,
        series -> Text,
        value -> Double,
    }
}

diesel::table! {
    fx (base, quote, date) {
        date -> Integer,
        base -> Text,
        quote -> Text,
        rate -> Double,
    }
}

diesel::table! {
    settings (key) {
        key -> Text,
        value -> Text,
    }
}

diesel::table! {
    officers (company_id, name, role, since) {
        company_id -> Text,
        name -> Text,
        role -> Text,
        since -> Integer,
        until -> Nullable<Integer>,
        birth_year -> Nullable<Integer>,
    }
}

diesel::table! {
    events (company_id, date, kind) {
        company_id -> Text,
        date -> Integer,
        kind -> Text,
        confirmed -> Bool,
        announced_on -> Nullable<Integer>,
    }
}

diesel::table! {
    news (id) {
        id -> Integer,
        company_id -> Nullable<Text>,
        published_at -> Text,
        headline -> Text,
        summary -> Text,
        source -> Text,
    }
}

diesel::table! {
    indexes (id) {
        id -> Text,
        name -> Text,
        currency -> Text,
    }
}

diesel::table! {
    index_members (index_id, company_id, from_day) {
        index_id -> Text,
        company_id -> Text,
        from_day -> Integer,
        to_day -> Nullable<Integer>,
    }
}

diesel::table! {
    index_levels (index_id, date) {
        index_id -> Text,
        date -> Integer,
        level -> Double,
    }
}

diesel::table! {
    annotations (company_id, kind, name) {
        company_id -> Text,
        kind -> Text,
        name -> Text,
        value -> Text,
        noted_on -> Nullable<Integer>,
    }
}

diesel::table! {
    imports (id) {
        id -> Integer,
        title -> Text,
        finished_at -> Text,
        outcome -> Text,
        message -> Text,
        row_count -> BigInt,
        bad_rows -> BigInt,
        report -> Text,
    }
}

diesel::table! {
    gauges (settings, date) {
        settings -> Text,
        date -> Text,
        body -> Text,
    }
}

diesel::table! {
    checksums (owner, of_table) {
        owner -> Text,
        of_table -> Text,
        sum -> BigInt,
    }
}
