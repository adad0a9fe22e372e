// Soundness as computed and in one's own judgement, with its reason; it is changed where one says what one assumes.
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../../api/client";
import { numberOf } from "../../../headless/format";

const SOUND = ["I", "II", "III", "none"];

export function MySoundness({ value: v }: { value: Schemas["ValueAnswer"] }) {
  const computed = numberOf(v.quality.soundness);
  const mine = v.own.soundness;
  const go = () => document.getElementById("assume")?.scrollIntoView({ block: "center" });
  return (
    <Typography variant="body2" sx={{ mt: 1 }}>
      Soundness <b>{computed === null ? "not computed" : SOUND[computed - 1]}</b> by quality and red flags
      {mine ? (
        <>
          , <b className="brass">{SOUND[mine - 1]}</b> in my judgement{v.own.reason && `: ${v.own.reason}`}
        </>
      ) : null}
      .{" "}
      <Link component="button" onClick={go} sx={{ verticalAlign: "baseline", fontSize: "inherit" }}>
        {mine ? "Change mine" : "Give mine"}
      </Link>
    </Typography>
  );
}
