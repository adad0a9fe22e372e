// The screen's name, its universe, and its blocks of criteria.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import Menu from "@mui/material/Menu";
import MenuItem from "@mui/material/MenuItem";
import Paper from "@mui/material/Paper";
import Select from "@mui/material/Select";
import Typography from "@mui/material/Typography";
import visuallyHidden from "@mui/utils/visuallyHidden";
import { useState } from "react";
import type { Block, Measure, Screen, ScreenAnswer } from "../../api/client";
import { useReadyScreens } from "../../api/queries";
import { useActions } from "../../headless/actions";
import * as state from "../../headless/screenState";
import { SERIF } from "../../theme/theme";
import { AddCriterion } from "./AddCriterion";
import { CriterionCard } from "./CriterionCard";
import { Universe } from "./Universe";

interface Props {
  screen: Screen;
  edit: state.Edit;
  answer: ScreenAnswer | undefined;
  measures: Measure[];
}

export function Criteria({ screen, edit, answer, measures }: Props) {
  const [open, setOpen] = useState<number | null>(null);
  const blocks = state.blocksOf(screen);
  const removeBlock = (b: number) => {
    setOpen(null);
    edit((s) => state.removeBlock(s, b), "Block removed");
  };
  const take = (taken: Screen) => edit(() => taken, "Another screen opened");
  useActions([
    { label: "Add a block: any of these", run: () => edit(state.addBlock) },
    { label: "New screen", run: () => take(state.EMPTY) },
  ]);
  return (
    <>
      <Box component="h1" sx={visuallyHidden}>
        Screen: {screen.name}
      </Box>
      <InputBase
        value={screen.name ?? ""}
        onChange={(e) => edit((s) => ({ ...s, name: e.target.value }))}
        inputProps={{ "aria-label": "Name of the screen" }}
        fullWidth
        sx={{ fontFamily: SERIF, fontSize: 22, fontWeight: 600, "& input": { p: 0, textOverflow: "ellipsis" } }}
      />
      <ReadyMade take={take} />
      <Universe screen={screen} edit={edit} answer={answer} />
      {blocks.map((block, b) => (
        <Box key={b} sx={{ mt: 1.5 }}>
          <Box sx={{ display: "flex", alignItems: "center", gap: 0.5, mb: 0.5 }}>
            <Need block={block} set={(need) => edit((s) => state.setNeed(s, b, need))} />
            <Box sx={{ flex: 1 }} />
            {blocks.length > 1 && (
              <Button sx={{ minWidth: 0, color: "text.secondary", fontWeight: 400 }} onClick={() => removeBlock(b)}>
                Remove block
              </Button>
            )}
          </Box>
          {state.criteriaOf(block).length > 0 && (
            <Paper sx={{ overflow: "hidden" }}>
              {state.criteriaOf(block).map((criterion, at) => {
                const flat = state.flatIndex(screen, { block: b, at });
                return (
                  <CriterionCard
                    key={at}
                    block={b}
                    at={at}
                    flat={flat}
                    criterion={criterion}
                    result={answer?.criteria[flat]?.formula === criterion.formula ? answer.criteria[flat] : undefined}
                    left={answer?.steps.find((s) => s.criterion === flat)?.left}
                    open={open === flat}
                    setOpen={setOpen}
                    edit={edit}
                  />
                );
              })}
            </Paper>
          )}
          <AddCriterion measures={measures} block={b} edit={edit} />
        </Box>
      ))}
      <Button sx={{ mt: 1, ml: -0.5 }} onClick={() => edit(state.addBlock)}>
        Add a block: any of these
      </Button>
    </>
  );
}

function ReadyMade({ take }: { take: (s: Screen) => void }) {
  const ready = useReadyScreens();
  const [anchor, setAnchor] = useState<Element | null>(null);
  return (
    <Box sx={{ ml: -0.6, mb: 0.5 }}>
      <Button onClick={(e) => setAnchor(e.currentTarget)}>Ready-made screens</Button>
      <Button onClick={() => take(state.EMPTY)}>New</Button>
      <Menu open={anchor !== null} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {ready.data?.map((r) => (
          <MenuItem
            key={r.id}
            onClick={() => {
              take(r.screen);
              setAnchor(null);
            }}
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

function Need({ block, set }: { block: Block; set: (need: state.Need) => void }) {
  const need = state.needOf(block);
  const count = state.criteriaOf(block).length;
  const options = [2, 3, 4, 5].filter((k) => k < count || k === need);
  return (
    <Select
      value={String(need)}
      variant="standard"
      disableUnderline
      inputProps={{ "aria-label": "How many of these" }}
      onChange={(e) =>
        set(e.target.value === "all" || e.target.value === "any" ? e.target.value : Number(e.target.value))
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
