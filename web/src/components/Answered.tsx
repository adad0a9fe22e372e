// What an answer brings, once it is there: before it what is coming, after an error what to do. Asked when it comes near the window.
import Box from "@mui/material/Box";
import type { UseQueryResult } from "@tanstack/react-query";
import { type ReactNode, Suspense, useRef } from "react";
import { useNear } from "../headless/useNear";
import { Failed, Loading } from "./States";

interface Props<T> {
  answer: UseQueryResult<T>;
  /** Rows that are coming. */
  rows?: number;
  children: (data: T) => ReactNode;
}

export function Answered<T>({ answer, rows = 6, children }: Props<T>) {
  if (answer.error) return <Failed error={answer.error} retry={() => void answer.refetch()} />;
  return answer.data === undefined ? <Loading rows={rows} /> : children(answer.data);
}

/** What is far below the window is neither asked for nor drawn, nor is its script loaded. */
export function WhenNear({ rows = 6, children }: { rows?: number; children: ReactNode }) {
  const box = useRef<HTMLDivElement>(null);
  const near = useNear(box);
  const coming = <Loading rows={rows} />;
  return <Box ref={box}>{near ? <Suspense fallback={coming}>{children}</Suspense> : coming}</Box>;
}
