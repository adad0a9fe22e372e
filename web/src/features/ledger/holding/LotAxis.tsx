// Where a holding was bought and stands, on one axis of money a share: a knot for each lot, the price as a flag,
// the value as a tall mark, hollow what it was thought to be then.
import type { Schemas } from "../../../api/client";
import { price } from "../../../headless/format";
import { tint } from "../../../theme/theme";

const WIDE = 170;
const TALL = 26;

export function LotAxis({ h }: { h: Schemas["HoldingRow"] }) {
  if (h.price == null || h.quantity <= 0) return null;
  // From the listing's currency to the account's.
  const rate = h.value / h.quantity / h.price;
  const lots = h.lots.map((l) => l.cost / l.quantity);
  const now = h.price * rate;
  const far = (x: number | null | undefined) =>
    typeof x === "number" && x * rate < 2.5 * Math.max(now, ...lots) ? x * rate : null;
  const [value, pay, then] = [far(h.intrinsic_value), far(h.buy_below), far(h.value_then)];
  const all = [...lots, now, ...[value, pay, then].filter((x): x is number => x !== null)];
  const [low, high] = [Math.min(...all) * 0.97, Math.max(...all) * 1.03];
  const x = (p: number) => 4 + ((p - low) / (high - low)) * (WIDE - 8);
  const said = [
    `bought at ${lots.map(price).join(", ")}`,
    `price ${price(now)}`,
    then === null ? "" : `value then ${price(then)}`,
    value === null ? "" : `value ${price(value)}`,
  ].filter(Boolean);
  return (
    <svg role="img" aria-label={said.join("; ")} data-hint={said.join("; ")} width={WIDE} height={TALL}>
      <line x1={0} x2={WIDE} y1={TALL - 5} y2={TALL - 5} stroke={tint("hairline")} />
      {then !== null && (
        <rect x={x(then) - 1.5} y={2.5} width={3} height={TALL - 5} fill={tint("panel")} stroke={tint("teal")} />
      )}
      {value !== null && (
        <line x1={x(value)} x2={x(value)} y1={2} y2={TALL - 2} stroke={tint("teal")} strokeWidth={2} />
      )}
      {pay !== null && <line x1={x(pay)} x2={x(pay)} y1={TALL - 10} y2={TALL} stroke={tint("brass")} strokeWidth={2} />}
      {lots.map((p, i) => (
        <circle key={i} cx={x(p)} cy={TALL - 5} r={3.2} fill={tint("panel")} stroke={tint("ink")} strokeWidth={1.25} />
      ))}
      <path
        d={`M${x(now)},${TALL - 5} V6 h7 l-2,3 l2,3 h-7`}
        fill={tint("brass")}
        stroke={tint("brass")}
        strokeWidth={1}
      />
    </svg>
  );
}
