//! The description of the API is kept, whatever is asked: requests are made from it, good ones and bad ones, and every answer has a
//! status, a media type and a form that it describes. More of them with `REQUESTS`.

use crate::{OWN, ask_whole, server};
use jsonschema::Validator;
use rand::{RngExt, SeedableRng, prelude::IndexedRandom, rngs::StdRng};
use serde_json::{Map, Value, json};
use std::{
    collections::{BTreeMap, HashMap},
    time::{Duration, Instant},
};

/// The description, with what its schemas take.
pub(crate) struct Contract {
    description: Value,
    validators: HashMap<String, Validator>,
}

impl Contract {
    pub(crate) fn new() -> Contract {
        Contract { description: serde_json::to_value(artemon_server::openapi()).unwrap(), validators: HashMap::new() }
    }

    /// An operation such as `GET /api/about`.
    fn described(&self, operation: &str) -> &Value {
        let (method, path) = operation.split_once(' ').unwrap();
        &self.description["paths"][path][method.to_lowercase()]
    }

    /// Whether an answer is one that is described; says what is not.
    pub(crate) fn check(&mut self, operation: &str, status: u16, headers: &str, body: &str) -> Result<(), String> {
        let responses = &self.described(operation)["responses"];
        let class = format!("{}XX", status / 100);
        let Some(response) = responses.get(status.to_string()).or_else(|| responses.get(&class)) else {
            return Err(format!("the status {status} is not described"));
        };
        let sort = headers.lines().find_map(|l| l.to_lowercase().strip_prefix("content-type: ").map(str::to_owned)).unwrap_or_default();
        let Some(content) = response["content"].as_object() else {
            return if body.is_empty() { Ok(()) } else { Err(format!("with {status} nothing is described, but {sort} comes")) };
        };
        let plain = sort.split(';').next().unwrap_or_default().trim().to_owned();
        let Some(media) = content.get(&plain) else {
            return Err(format!("{plain} comes with {status}, described are {:?}", content.keys()));
        };
        if !plain.ends_with("json") || media.get("schema").is_none() {
            return Ok(());
        }
        let answer: Value = serde_json::from_str(body).map_err(|e| format!("no JSON: {e}"))?;
        let schema = media["schema"].clone();
        let mut errors = self.validator(&schema).iter_errors(&answer).map(|e| format!("{}: {e}", e.instance_path()));
        errors.next().map_or(Ok(()), |first| Err(first.chars().take(600).collect()))
    }

    fn validator(&mut self, schema: &Value) -> &Validator {
        let description = &self.description;
        self.validators.entry(schema.to_string()).or_insert_with(|| {
            let mut root = schema.clone();
            root["components"] = description["components"].clone();
            jsonschema::options().build(&root).unwrap()
        })
    }
}

/// Makes values that a schema takes, and now and then others.
struct Making<'d> {
    description: &'d Value,
    rng: StdRng,
    /// What bad values are made of: none, or one in so many.
    bad: Option<u32>,
}

const FORMULAS: [&str; 9] =
    ["pe", "roe > 0.1", "eps_growth(5)", "own_rank(pe, 10y)", "pe (", "price / 0", "sector", "", "rank_in(pe, sector)"];
const DAYS: [&str; 5] = ["2024-02-20", "2025-06-27", "2020-01-31", "1999-01-01", "never"];

impl Making<'_> {
    fn once_in(&mut self, n: u32) -> bool {
        self.rng.random_ratio(1, n)
    }

    fn one<T: Clone>(&mut self, all: &[T]) -> T {
        all.choose(&mut self.rng).unwrap().clone()
    }

    /// What nobody should send.
    fn odd(&mut self) -> Value {
        let long = "x".repeat(20_000);
        let all = [
            Value::Null,
            json!(true),
            json!(-1),
            json!(0),
            json!(1e308),
            json!(9_007_199_254_740_993i64),
            json!(""),
            json!("\u{202e}\u{0}'\";--"),
            json!(long),
            json!([]),
            json!([[[]]]),
            json!({}),
            json!({ "": null }),
        ];
        self.one(&all)
    }

    fn text(&mut self, name: &str) -> String {
        let of: &[&str] = match name {
            "symbol" | "symbols" | "members" => &["DRUA", "OLIC", "NOSUCH"],
            "formula" | "formulas" | "value" | "columns" => &FORMULAS,
            "as_of" | "since" | "from" | "to" | "date" | "on" | "day" | "start" | "end" => &DAYS,
            "currency" | "base" => &["XFA", "XFB", "???"],
            "name" | "to_name" => &["Mine", "Standard", "Careful", "../x"],
            "kind" => &["screen", "list", "alert", "formula"],
            "format" => &["csv", "xlsx", "json"],
            _ => &["a", "pe", "2024-02-20", "DRUA", "1", "é\u{0301}", " ", "drua%2F"],
        };
        self.one(of).to_owned()
    }

    fn of(&mut self, schema: &Value, name: &str, depth: u32) -> Value {
        if let Some(bad) = self.bad
            && self.once_in(bad)
        {
            return self.odd();
        }
        if let Some(target) = schema["$ref"].as_str() {
            let target = self.description.pointer(target.trim_start_matches('#')).unwrap();
            return self.of(target, name, depth);
        }
        if let Some(all) = schema["enum"].as_array() {
            return self.one(all);
        }
        if let Some(all) = schema["oneOf"].as_array().or(schema["anyOf"].as_array()) {
            let one = self.one(all);
            let own = self.of(&one, name, depth);
            return self.with_properties(schema, own, depth);
        }
        if let Some(all) = schema["allOf"].as_array() {
            let mut whole = Map::new();
            for part in all {
                if let Value::Object(more) = self.of(part, name, depth) {
                    whole.extend(more);
                }
            }
            return self.with_properties(schema, Value::Object(whole), depth);
        }
        let sort = match &schema["type"] {
            Value::Array(all) => self.one(all),
            other => other.clone(),
        };
        match sort.as_str() {
            Some("object") => self.with_properties(schema, json!({}), depth),
            Some("array") => {
                let count = if depth > 6 { 0 } else { self.rng.random_range(0..4) };
                Value::Array((0..count).map(|_| self.of(&schema["items"], name, depth + 1)).collect())
            }
            Some("number") => json!(self.one(&[0.0, 0.1, 0.5, 1.0, 12.5, 100.0, -3.0, 1e9])),
            Some("integer") => json!(self.one(&[0, 1, 2, 5, 10, 60, 200, 2024])),
            Some("boolean") => json!(self.rng.random::<bool>()),
            Some("string") => json!(self.text(name)),
            _ => Value::Null,
        }
    }

    fn with_properties(&mut self, schema: &Value, so_far: Value, depth: u32) -> Value {
        let Value::Object(mut object) = so_far else { return so_far };
        let required: Vec<&str> = schema["required"].as_array().into_iter().flatten().filter_map(Value::as_str).collect();
        for (name, property) in schema["properties"].as_object().into_iter().flatten() {
            let wanted = required.contains(&name.as_str()) || (depth < 5 && self.once_in(3));
            // Now and then something is missing.
            let missing = self.bad.is_some_and(|bad| self.once_in(bad * 2));
            if wanted && !missing {
                object.insert(name.clone(), self.of(property, name, depth + 1));
            }
        }
        if schema["additionalProperties"].is_object() && depth < 5 {
            for _ in 0..self.rng.random_range(0..3) {
                let key = self.text("");
                object.insert(key, self.of(&schema["additionalProperties"], "", depth + 1));
            }
        }
        if self.bad.is_some_and(|bad| self.once_in(bad * 3)) {
            object.insert("nonsense".to_owned(), json!(1));
        }
        Value::Object(object)
    }
}

/// A request as it is sent: what comes after the method, headers, the body.
struct Made {
    path: String,
    headers: String,
    body: String,
}

fn escaped(text: &str) -> String {
    text.bytes().map(|b| if b.is_ascii_alphanumeric() { char::from(b).to_string() } else { format!("%{b:02X}") }).collect()
}

/// A request of an operation; `known` are names that stood in answers, by the sort of thing.
fn make(making: &mut Making<'_>, operation: &str, described: &Value, known: &[String]) -> Made {
    let (_, path) = operation.split_once(' ').unwrap();
    let mut made = Made { path: path.to_owned(), headers: String::new(), body: String::new() };
    let mut query = Vec::new();
    for parameter in described["parameters"].as_array().into_iter().flatten() {
        let (name, place) = (parameter["name"].as_str().unwrap(), parameter["in"].as_str().unwrap());
        let value = match place {
            "path" if name == "symbol" => making.one(&["DRUA", "OLIC", "NOSUCH", "\u{202e}"]).to_owned(),
            "path" if !known.is_empty() && !making.once_in(4) => making.one(known),
            "header" => making.one(&["\"1\"", "\"0\"", "\"9\"", "x"]).to_owned(),
            _ => match making.of(&parameter["schema"], name, 4) {
                Value::String(text) => text,
                other => other.to_string(),
            },
        };
        let value: String = value.chars().take(2_000).collect();
        match place {
            // A step up would be another place.
            "path" => made.path = made.path.replace(&format!("{{{name}}}"), &escaped(if value.is_empty() { "none" } else { &value })),
            "header" => made.headers = format!("{name}: {value}\r\n"),
            _ if parameter["required"] == true || making.once_in(2) => query.push(format!("{name}={}", escaped(&value))),
            _ => {}
        }
    }
    if !query.is_empty() {
        made.path = format!("{}?{}", made.path, query.join("&"));
    }
    let content = &described["requestBody"]["content"];
    if let Some(media) = content.get("application/json") {
        made.body = making.of(&media["schema"], "", 0).to_string();
        if making.bad.is_some() && making.once_in(20) {
            made.body.truncate(made.body.len() / 2);
        }
    } else if content.get("multipart/form-data").is_some() {
        let text = making.one(&["Ticker;Datum;Close\r\nDRUA;1.7.2025;114,50\r\n", "", "\0\0\0", "=1+1,\"\n"]);
        let name = making.one(&["day.csv", "../x.csv", "datapackage.json", "", "\u{202e}.zip"]);
        let field = making.one(&["files", "file", "request"]);
        made.headers += "Content-Type: multipart/form-data; boundary=x\r\n";
        made.body = format!("--x\r\nContent-Disposition: form-data; name=\"{field}\"; filename=\"{name}\"\r\n\r\n{text}\r\n--x--\r\n");
    }
    made
}

/// Names of things that an answer tells of.
fn names_in(answer: &Value, into: &mut Vec<String>) {
    match answer {
        Value::Object(all) => {
            for (key, value) in all {
                match value {
                    Value::String(name) if ["id", "name"].contains(&key.as_str()) && name.len() < 60 => into.push(name.clone()),
                    Value::Number(n) if key == "id" => into.push(n.to_string()),
                    other => names_in(other, into),
                }
            }
        }
        Value::Array(all) => all.iter().take(3).for_each(|one| names_in(one, into)),
        _ => {}
    }
}

#[tokio::test(flavor = "multi_thread")]
async fn whatever_is_asked_is_answered_as_described() {
    let requests = std::env::var("REQUESTS").ok().and_then(|n| n.parse().ok()).unwrap_or(16u64);
    let server = server().await;
    let mut contract = Contract::new();
    let description = contract.description.clone();
    let operations: Vec<String> = description["paths"]
        .as_object()
        .unwrap()
        .iter()
        .flat_map(|(path, methods)| methods.as_object().unwrap().keys().map(move |m| format!("{} {path}", m.to_uppercase())))
        // A stream without an end.
        .filter(|operation| operation != "GET /api/events")
        .collect();
    let mut known: BTreeMap<String, Vec<String>> = BTreeMap::new();
    let (mut wrong, mut good, mut count) = (BTreeMap::new(), 0u64, 0u64);
    for round in 0..requests {
        for operation in &operations {
            let seed = round * 1_000 + operation.len() as u64;
            let bad = (round % 3 == 0).then_some(8);
            let mut making = Making { description: &description, rng: StdRng::seed_from_u64(seed), bad };
            let area = operation.split('/').nth(2).unwrap().to_owned();
            let described = contract.described(operation).clone();
            let names = known.get(&area).cloned().unwrap_or_default();
            let made = make(&mut making, operation, &described, &names);
            let method = operation.split(' ').next().unwrap();
            let begun = Instant::now();
            let (status, headers, body) = ask_whole(&server, method, &made.path, OWN, &made.headers, &made.body).await;
            let asked = format!("{method} {} {}{}", made.path, made.headers, made.body.chars().take(900).collect::<String>());
            count += 1;
            good += u64::from(status < 300);
            let mut said = |what: String| {
                wrong.entry(operation.clone()).or_insert(format!("{what}\n  {asked}"));
            };
            if status >= 500 {
                said(format!("{status} {body}"));
            } else if let Err(what) = contract.check(operation, status, &headers, &body) {
                said(what);
            } else if begun.elapsed() > Duration::from_secs(20) {
                said(format!("it took {:?}", begun.elapsed()));
            }
            if status < 300
                && let Ok(answer) = serde_json::from_str(&body)
            {
                let names = known.entry(area).or_default();
                names_in(&answer, names);
                let more = names.len().saturating_sub(40);
                names.drain(..more);
            }
        }
    }
    let wrong: Vec<String> = wrong.into_iter().map(|(operation, what)| format!("{operation}: {what}")).collect();
    assert!(wrong.is_empty(), "{}", wrong.join("\n\n"));
    println!("{count} requests, {good} of them good");
    assert!(good * 3 > count, "only {good} of {count} were good");
    assert_eq!(crate::get(&server, "/api/about").await.0, 200);
}
