// What can be chosen, below the field that asks for it.
import Box from "@mui/material/Box";
import Paper from "@mui/material/Paper";
import Popper from "@mui/material/Popper";
import Typography from "@mui/material/Typography";
import { Fragment, useEffect, useRef } from "react";
import { tint } from "../../theme/theme";
import type { Entry } from "./FindField";

interface Props {
  id: string;
  label: string;
  anchor: Element | null;
  entries: Entry[];
  chosen: number;
  take: (index: number) => void;
  /** What is said when there are none. */
  none?: string;
}

export const optionId = (list: string, index: number): string => `${list}-${index}`;

export function Listed({ id, label, anchor, entries, chosen, take, none }: Props) {
  if (entries.length === 0 && !none) return null;
  return (
    <Popper open anchorEl={anchor} placement="bottom-start" sx={{ zIndex: "modal" }}>
      <Paper
        elevation={1}
        sx={{ mt: 0.5, width: 440, maxWidth: "95vw", maxHeight: "70vh", overflowY: "auto", py: 0.5 }}
        // The field keeps the focus, and its caret.
        onMouseDown={(e) => e.preventDefault()}
      >
        {entries.length === 0 && (
          <Typography variant="body2" sx={{ px: 1.25, py: 0.5, color: "text.secondary" }} role="status">
            {none}
          </Typography>
        )}
        <div id={id} role="listbox" aria-label={label}>
          {entries.map((e, i) => (
            <Fragment key={e.id}>
              {e.group !== entries[i - 1]?.group && e.group && (
                <Typography variant="caption" component="div" role="presentation" sx={GROUP}>
                  {e.group}
                </Typography>
              )}
              <Option entry={e} id={optionId(id, i)} chosen={i === chosen} take={() => take(i)} />
            </Fragment>
          ))}
        </div>
      </Paper>
    </Popper>
  );
}

const GROUP = { px: 1.25, pt: 0.75, fontWeight: 600, color: tint("second") };

function Option({ entry: e, id, chosen, take }: { entry: Entry; id: string; chosen: boolean; take: () => void }) {
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (chosen) box.current?.scrollIntoView({ block: "nearest" });
  }, [chosen]);
  return (
    <Box
      ref={box}
      id={id}
      role="option"
      aria-selected={chosen}
      onClick={take}
      sx={{
        px: 1.25,
        py: 0.5,
        fontSize: 13,
        cursor: "pointer",
        bgcolor: chosen ? tint("brassWash") : undefined,
        "&:hover": { bgcolor: chosen ? undefined : tint("tray") },
      }}
    >
      <Box sx={{ display: "flex", gap: 1 }}>
        <span>{e.label}</span>
        <Box component="span" sx={{ color: tint("second"), ml: "auto", textAlign: "right" }}>
          {e.hint}
        </Box>
      </Box>
      {e.meaning && (
        <Typography variant="caption" component="div" color="textSecondary">
          {e.meaning}
        </Typography>
      )}
    </Box>
  );
}
