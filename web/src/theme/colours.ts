// Paper and ink. Teal is cheaper or stronger, clay dearer or weaker, brass marks what is yours, grey is history.
export interface Colours {
  ink: string;
  second: string;
  faint: string;
  paper: string;
  panel: string;
  hairline: string;
  teal: string;
  clay: string;
  brass: string;
  brassWash: string;
  tealWash: string;
  history: string;
  bar: string;
  tray: string;
  hover: string;
}

export const light: Colours = {
  ink: "#1D2733",
  second: "#4F5A65",
  faint: "#5F6872",
  paper: "#FBF8F2",
  panel: "#FFFFFF",
  hairline: "#DDD5C7",
  teal: "#0E6573",
  clay: "#A8502B",
  brass: "#8A6114",
  brassWash: "#F3E7CC",
  tealWash: "#CFE2E4",
  history: "#B9AF9E",
  bar: "#8FA3A6",
  tray: "#F2EDE2",
  hover: "#F7F3EA",
};

export const dark: Colours = {
  ink: "#E8E3D8",
  second: "#A9B0B6",
  faint: "#939CA4",
  paper: "#14191F",
  panel: "#1B222A",
  hairline: "#2E3842",
  teal: "#63B5C1",
  clay: "#DB906C",
  brass: "#DDB566",
  brassWash: "#3A3222",
  tealWash: "#22424A",
  history: "#5E6973",
  bar: "#5F7F86",
  tray: "#181E25",
  hover: "#212932",
};

/** Of two colours so much of the first, from 0 to 1. */
export function mixed(one: string, other: string, share: number): string {
  const parts = (of: string) => [1, 3, 5].map((at) => Number.parseInt(of.slice(at, at + 2), 16));
  const [a, b] = [parts(one), parts(other)];
  return `rgb(${a.map((part, i) => Math.round(part * share + (b[i] ?? 0) * (1 - share))).join(" ")})`;
}
