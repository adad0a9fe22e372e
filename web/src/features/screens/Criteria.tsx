// The screen's name, its universe, and its blocks of criteria.
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import InputBase from "@mui/material/InputBase";
import Paper from "@mui/material/Paper";
import { type ReactNode, useState } from "react";
import type { Block, Measure, ScreenAnswer } from "../../api/client";
import { MenuButton } from "../../components/menu/MenuButton";
import { useActions } from "../../headless/actions";
import * as state from "../../headless/screenState";
import { SERIF, tint } from "../../theme/theme";
import { AddCriterion } from "./AddCriterion";
import { CriterionCard } from "./CriterionCard";
import { useDrop } from "./dragged";
import { Keeping } from "./saved/Keeping";
import { Universe } from "./Universe";
import type { Edited } from "./useEdited";

interface Props {
  working: Edited;
  answer: ScreenAnswer | undefined;
  measures: Measure[];
}

export function Criteria({ working, answer, measures }: Props) {
  const { screen, edit } = working;
  const [open, setOpen] = useState<number | null>(null);
  const blocks = state.blocksOf(screen);
  const sizes = blocks.map((b) => state.criteriaOf(b).length).join();
  const removeBlock = (b: number) => {
    setOpen(null);
    edit((s) => state.removeBlock(s, b), "Block removed");
  };
  useActions([{ label: "Add a block: any of these", run: () => edit(state.addBlock) }]);
  return (
    <>
      <InputBase
        value={screen.name ?? ""}
        onChange={(e) => edit((s) => ({ ...s, name: e.target.value }))}
        inputProps={{ "aria-label": "Name of the screen" }}
        fullWidth
        sx={{ fontFamily: SERIF, fontSize: 22, fontWeight: 600, "& input": { p: 0, textOverflow: "ellipsis" } }}
      />
      <Keeping working={working} />
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
                    sizes={sizes}
                  />
                );
              })}
            </Paper>
          )}
          <Below
            take={(from) => {
              setOpen(null);
              edit((s) => state.move(s, from, { block: b, at: state.criteriaOf(block).length }));
            }}
          >
            <AddCriterion measures={measures} block={b} edit={edit} />
          </Below>
        </Box>
      ))}
      <Button sx={{ mt: 1, ml: -0.5 }} onClick={() => edit(state.addBlock)}>
        Add a block: any of these
      </Button>
    </>
  );
}

/** What stands below the criteria of a block: one that is dropped there becomes its last. */
function Below({ take, children }: { take: (from: state.Place) => void; children: ReactNode }) {
  const { over, onto } = useDrop(take);
  return (
    <Box {...onto} sx={{ boxShadow: over ? `inset 0 2px 0 ${tint("brass")}` : "none" }}>
      {children}
    </Box>
  );
}

const NEEDED: Record<string, string> = { all: "All of these", any: "Any of these" };

function Need({ block, set }: { block: Block; set: (need: state.Need) => void }) {
  const need = state.needOf(block);
  const count = state.criteriaOf(block).length;
  const choices: state.Need[] = ["all", "any", ...[2, 3, 4, 5].filter((k) => k < count || k === need)];
  const words = (k: state.Need) => NEEDED[k] ?? `At least ${k} of these`;
  return (
    <MenuButton
      means="How many of these"
      label={`${words(need)} ▾`}
      items={choices.map((k) => ({ label: words(k), chosen: k === need, run: () => set(k) }))}
      sx={{ ml: -0.6, color: "text.primary" }}
    />
  );
}
