// A word of a sentence that can be chosen from a menu.
import { type Item, MenuButton } from "./menu/MenuButton";

interface Props {
  /** What it is a choice of. */
  means: string;
  word: string;
  items: Item[];
}

export const WordChoice = ({ means, word, items }: Props) => (
  <MenuButton means={means} label={word} items={items} sx={WORD} />
);

const WORD = {
  all: "unset",
  cursor: "pointer",
  fontWeight: 600,
  textDecoration: "underline dotted",
  textDecorationColor: "var(--a-brass)",
  textUnderlineOffset: "4px",
  "&:hover": { textDecorationStyle: "solid" },
  "&:focus-visible": { outline: "2px solid var(--a-brass)", outlineOffset: 2 },
};

/** Items of a choice among a few. */
export const among = <T extends string | number>(
  all: readonly T[],
  chosen: T,
  label: (of: T) => string,
  choose: (of: T) => void,
): Item[] => all.map((of) => ({ label: label(of), chosen: of === chosen, run: () => choose(of) }));
