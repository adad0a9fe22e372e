// A message in words, as its readers get it.
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import type { Schemas } from "../../api/client";
import { tint } from "../../theme/theme";

export function LetterView({ letter }: { letter: Schemas["Letter"] }) {
  return (
    <Box className="serif" sx={{ fontSize: 15, lineHeight: 1.45 }}>
      <p style={{ fontSize: 17, marginTop: 0 }}>{letter.intro}</p>
      {letter.parts
        .filter((p) => p.lines.length > 0)
        .map((p) => (
          <section key={p.title}>
            <Typography variant="h4" component="h3" sx={{ borderBottom: `1px solid ${tint("ink")}`, mt: 2 }}>
              {p.title}
            </Typography>
            {p.lines.map((l) => (
              <p
                key={l.head + l.text}
                style={{ margin: 0, padding: "6px 0", borderBottom: `1px solid ${tint("hairline")}` }}
              >
                {l.head && (
                  <b>
                    {l.link ? (
                      <a href={new URL(l.link).pathname} style={{ color: tint("teal"), textDecoration: "none" }}>
                        {l.head}
                      </a>
                    ) : (
                      l.head
                    )}
                  </b>
                )}{" "}
                {l.text}
              </p>
            ))}
          </section>
        ))}
    </Box>
  );
}
