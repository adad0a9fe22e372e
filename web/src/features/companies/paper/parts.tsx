// What paper is made of: a small table, and lines to write on.
import Box from "@mui/material/Box";
import { styled } from "@mui/material/styles";

const Small = styled("table")({
  width: "100%",
  borderCollapse: "collapse",
  fontSize: 10,
  "& th, & td": { textAlign: "right", padding: "1.5px 4px", borderBottom: "1px solid #ddd", whiteSpace: "nowrap" },
  "& th:first-of-type, & td:first-of-type": { textAlign: "left" },
  "& th": { fontWeight: 600, borderBottom: "1px solid #999" },
});

interface TableProps {
  label: string;
  head: string[];
  rows: string[][];
}

export const PaperTable = ({ label, head, rows }: TableProps) => (
  <Small aria-label={label}>
    <thead>
      <tr>
        {head.map((text, i) => (
          <th key={i}>{text}</th>
        ))}
      </tr>
    </thead>
    <tbody>
      {rows.map(([first, ...cells]) => (
        <tr key={first}>
          <td>{first}</td>
          {cells.map((text, i) => (
            <td key={i}>{text}</td>
          ))}
        </tr>
      ))}
    </tbody>
  </Small>
);

/** Prompts, each with so many lines to write on. */
export const Lined = ({ prompts }: { prompts: [string, number][] }) => (
  <Box sx={{ mt: 1 }}>
    {prompts.map(([prompt, lines]) => (
      <section key={prompt}>
        <Box sx={{ color: "#555", mt: 1 }}>{prompt}</Box>
        {Array.from({ length: lines }, (_, i) => (
          <Box key={i} sx={{ height: 24, borderBottom: "1px dotted #999" }} />
        ))}
      </section>
    ))}
  </Box>
);
