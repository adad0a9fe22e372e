// The methods with their sources: how a value is made, what a test of the past rests on, and the measures taken from elsewhere.
import Box from "@mui/material/Box";
import Link from "@mui/material/Link";
import Typography from "@mui/material/Typography";
import { Link as RouterLink } from "react-router";
import { useMeasures } from "../../api/queries";
import { useAddress } from "../../headless/asOf";
import { tint } from "../../theme/theme";
import { type Method, MODELS, OTHERS } from "./methods";

export function MethodsPage() {
  const address = useAddress();
  const sourced = (useMeasures().data ?? []).filter((m) => m.source);
  return (
    <Box sx={{ maxWidth: 820 }}>
      <Typography variant="h1">Methods and sources</Typography>
      <Typography variant="sentence" sx={{ mb: 1.5 }}>
        A value is made by several models under several scenarios of growth, so that no single assumption decides. Every
        cell opens into its years and adds up.
      </Typography>
      <Typography variant="body2" color="textSecondary" sx={{ mb: 0.5 }}>
        E earnings, F free cash flow, B book value and D dividends a share; p the share of earnings paid out; r the
        required return; g growth, <Typeset formula="g_T" /> in the end; N the years of the horizon; ω what persists; w
        the mean cost of capital, k that of debt.
      </Typography>
      <Methods title="Models of value" methods={MODELS} />
      <Methods title="What is made of them" methods={OTHERS} />
      <Box component="section" sx={{ mt: 2 }}>
        <Typography variant="h2">Measures from elsewhere</Typography>
        {sourced.map((m) => (
          <Row key={m.id} source={m.source}>
            <Link component={RouterLink} to={address(`/guide/${m.id}`)} sx={{ fontWeight: 600 }}>
              {m.label}
            </Link>{" "}
            {m.meaning}
          </Row>
        ))}
      </Box>
    </Box>
  );
}

function Methods({ title, methods }: { title: string; methods: Method[] }) {
  return (
    <Box component="section" sx={{ mt: 2 }}>
      <Typography variant="h2">{title}</Typography>
      {methods.map((m) => (
        <Row key={m.title} source={m.source}>
          <b>{m.title}.</b> {m.said}
          {m.formula && (
            <Box sx={{ color: tint("second"), fontSize: 13, "& sub, & sup": { fontSize: "0.75em", lineHeight: 0 } }}>
              <Typeset formula={m.formula} />
            </Box>
          )}
        </Row>
      ))}
    </Box>
  );
}

/** A formula with its indices below and its powers above: `E_t`, `(1+r)^t`, `B_(t−1)`. */
function Typeset({ formula }: { formula: string }) {
  return formula.split(/([_^](?:\([^)]*\)|\w))/).map((part, i) => {
    const inner = part.slice(1).replace(/^\(|\)$/g, "");
    if (part.startsWith("_")) return <sub key={i}>{inner}</sub>;
    return part.startsWith("^") ? <sup key={i}>{inner}</sup> : part;
  });
}

function Row({ source, children }: { source?: string | undefined; children: React.ReactNode }) {
  return (
    <Box
      sx={{
        display: "grid",
        gridTemplateColumns: { xs: "1fr", md: "minmax(0, 1fr) 190px" },
        columnGap: 3,
        py: 0.75,
        borderTop: `1px solid ${tint("hairline")}`,
        fontSize: 13.5,
      }}
    >
      <Box>{children}</Box>
      <Box sx={{ color: tint("second"), fontSize: 13 }}>{source}</Box>
    </Box>
  );
}
