// Filled, half or open circle: holds, mixed, fails; a dot where too little is known.
import type { Schemas } from "../../api/client";
import { tint } from "../../theme/theme";

const WORDS: Record<Schemas["Mark"], string> = { holds: "holds", mixed: "mixed", fails: "fails", open: "not known" };

export function MarkShape({ mark }: { mark: Schemas["Mark"] }) {
  return (
    <svg width={12} height={12} role="img" aria-label={WORDS[mark]} style={{ flexShrink: 0, marginTop: 3 }}>
      <title>{WORDS[mark]}</title>
      {mark === "open" ? (
        <circle cx={6} cy={6} r={1.5} fill={tint("faint")} />
      ) : (
        <circle
          cx={6}
          cy={6}
          r={4.6}
          fill={mark === "holds" ? tint("ink") : "none"}
          stroke={tint("ink")}
          strokeWidth={1.4}
        />
      )}
      {mark === "mixed" && <path d="M6 1.4 A4.6 4.6 0 0 0 6 10.6 Z" fill={tint("ink")} />}
    </svg>
  );
}
