// Sets every page back to what was known on a past day.
import ButtonBase from "@mui/material/ButtonBase";
import Typography from "@mui/material/Typography";
import { lazy, Suspense, useRef, useState } from "react";
import { useAbout } from "../../api/queries";
import { useActions } from "../../headless/actions";
import { useAsOf } from "../../headless/asOf";
import { day } from "../../headless/format";

const AsOfForm = lazy(async () => ({ default: (await import("./AsOfForm")).AsOfForm }));

export function AsOfButton() {
  const last = useAbout().data?.last_day;
  const [asOf, setAsOf] = useAsOf();
  const button = useRef<HTMLButtonElement>(null);
  const [anchor, setAnchor] = useState<Element | null>(null);
  const open = () => setAnchor(button.current);
  useActions(
    [
      { keys: "t", label: "Set the date back…", run: open },
      ...(asOf ? [{ label: "Back to today", run: () => setAsOf(undefined) }] : []),
    ],
    "everywhere",
  );
  return (
    <>
      <ButtonBase
        id="as-of"
        ref={button}
        onClick={open}
        sx={{ display: "block", textAlign: "left", whiteSpace: "nowrap" }}
      >
        <Typography variant="caption" component="div" color="textDisabled" sx={{ lineHeight: 1.2 }}>
          as known on
        </Typography>
        <Typography variant="body2" component="div" sx={{ fontWeight: 500, lineHeight: 1.25 }}>
          {asOf ? day(asOf) : last ? day(last) : "…"}
        </Typography>
      </ButtonBase>
      <Suspense>{anchor && <AsOfForm anchor={anchor} close={() => setAnchor(null)} />}</Suspense>
    </>
  );
}
