// Shares a document of one's own; there is no such button where nobody else is.
import Button from "@mui/material/Button";
import { api, type Schemas } from "../api/client";
import { amongSeveral } from "../headless/presence";
import { useSharing } from "../headless/sharing";

interface Props {
  kind: Schemas["DocumentKind"];
  name: string;
  /** Of the document, where it is known; else it is found by its name. */
  id?: string | null | undefined;
  /** What it is called where that is not its name. */
  called?: string;
}

export function ShareButton({ kind, name, id, called = name }: Props) {
  if (!amongSeveral) return null;
  const share = async () => {
    const found = id ?? (await api.documents(kind)).find((d) => d.name === name)?.id;
    if (found) useSharing.setState({ thing: { kind: "document", id: found, name: called } });
  };
  return (
    <Button onClick={() => void share()} aria-label={`Share ${called}…`}>
      Share…
    </Button>
  );
}
