// The screen's name, its universe, and its blocks of criteria.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Paper from "@mui/material/Paper";
import Select from "@mui/material/Select";
import Snackbar from "@mui/material/Snackbar";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Measure, Screen, ScreenAnswer } from "../../api/client";
import { useReadyScreens } from "../../api/queries";
import * as state from "../../headless/screenState";
import { SERIF, tint } from "../../theme/theme";
import { AddCriterion } from "./AddCriterion";
import { CriterionCard } from "./CriterionCard";
import { Universe } from "./Universe";

interface Props {
  screen: Screen;
  edit: (s: Screen) => void;
  answer: ScreenAnswer | undefined;
  measures: Measure[];
}

export function Criteria({ screen, edit, answer, measures }: Props) {
  const [open, setOpen] = useState<number | null>(null);
  const [before, setBefore] = useState<Screen | null>(null);
  const blocks = state.blocksOf(screen);
  const removing = (next: Screen) => {
    setBefore(screen);
    setOpen(null);
    edit(next);
  };
  return (
    <>
      <InputBase
        value={screen.name ?? ""}
        onChange={(e) => edit({ ...screen, name: e.target.value })}
        inputProps={{ "aria-label": "Name of the screen" }}
        fullWidth
        sx={{ fontFamily: SERIF, fontSize: 22, fontWeight: 600, "& input": { p: 0, textOverflow: "ellipsis" } }}
      />
      <ReadyMade
        edit={(s) => {
          setBefore(screen);
          edit(s);
        }}
      />
      <Universe screen={screen} edit={edit} answer={answer} />
      {blocks.map((block, b) => (
        <Box key={b} sx={{ mt: 1.5 }}>
          <Box sx={{ display: "flex", alignItems: "center", gap: 0.5, mb: 0.5 }}>
            <Need block={b} screen={screen} edit={edit} />
            <Box sx={{ flex: 1 }} />
            {blocks.length > 1 && (
              <Button
                sx={{ minWidth: 0, color: tint("faint"), fontWeight: 400 }}
                onClick={() => removing(state.removeBlock(screen, b))}
              >
                Remove block
              </Button>
            )}
          </Box>
          {state.criteriaOf(block).length > 0 && (
            <Paper sx={{ overflow: "hidden" }}>
              {state.criteriaOf(block).map((criterion, at) => {
                const place = { block: b, at };
                const flat = state.flatIndex(screen, place);
                return (
                  <CriterionCard
                    key={at}
                    criterion={criterion}
                    result={answer?.criteria[flat]?.formula === criterion.formula ? answer.criteria[flat] : undefined}
                    left={answer?.steps.find((s) => s.criterion === flat)?.left}
                    open={open === flat}
                    toggle={() => setOpen(open === flat ? null : flat)}
                    change={(to) => edit(state.change(screen, place, to))}
                    remove={() => removing(state.remove(screen, place))}
                  />
                );
              })}
            </Paper>
          )}
          <AddCriterion measures={measures} first={b === 0} add={(c) => edit(state.add(screen, b, c))} />
        </Box>
      ))}
      <Button sx={{ mt: 1, ml: -0.5 }} onClick={() => edit(state.addBlock(screen))}>
        Add a block: any of these
      </Button>
      <Snackbar
        open={before !== null}
        autoHideDuration={8000}
        onClose={() => setBefore(null)}
        message="The screen was changed"
        action={
          <Button
            color="inherit"
            onClick={() => {
              if (before) edit(before);
              setBefore(null);
            }}
          >
            Undo
          </Button>
        }
      />
    </>
  );
}

function ReadyMade({ edit }: { edit: (s: Screen) => void }) {
  const ready = useReadyScreens();
  const [anchor, setAnchor] = useState<Element | null>(null);
  const take = (s: Screen) => {
    edit(s);
    setAnchor(null);
  };
  return (
    <Box sx={{ ml: -0.6, mb: 0.5 }}>
      <Button onClick={(e) => setAnchor(e.currentTarget)}>Ready-made screens</Button>
      <Button onClick={() => edit(state.EMPTY)}>New</Button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {ready.data?.map((r) => (
          <MenuItem
            key={r.id}
            onClick={() => take(r.screen)}
            sx={{ maxWidth: 420, whiteSpace: "normal", display: "block" }}
          >
            <Typography sx={{ fontWeight: 600 }}>{r.screen.name}</Typography>
            <Typography variant="body2" color="text.secondary">
              {r.reasoning}
            </Typography>
          </MenuItem>
        ))}
      </Menu>
    </Box>
  );
}

function Need({ block, screen, edit }: { block: number; screen: Screen; edit: (s: Screen) => void }) {
  const b = state.blocksOf(screen)[block];
  if (!b) return null;
  const need = state.needOf(b);
  const count = state.criteriaOf(b).length;
  const options = [2, 3, 4, 5].filter((k) => k < count || k === need);
  return (
    <Select
      value={String(need)}
      variant="standard"
      disableUnderline
      inputProps={{ "aria-label": "How many of these" }}
      onChange={(e) =>
        edit(
          state.setNeed(
            screen,
            block,
            e.target.value === "all" || e.target.value === "any" ? e.target.value : Number(e.target.value),
          ),
        )
      }
      sx={{ fontSize: 13, fontWeight: 600 }}
    >
      <MenuItem value="all">All of these</MenuItem>
      <MenuItem value="any">Any of these</MenuItem>
      {options.map((k) => (
        <MenuItem key={k} value={String(k)}>
          At least {k} of these
        </MenuItem>
      ))}
    </Select>
  );
}
