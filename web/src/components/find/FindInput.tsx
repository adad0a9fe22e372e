import InputBase from "@mui/material/InputBase";
import { styled } from "@mui/material/styles";
import { tint } from "../../theme/theme";

export const FindInput = styled(InputBase)({
  width: "100%",
  fontSize: 13,
  padding: "1px 10px",
  border: `1px solid ${tint("hairline")}`,
  borderRadius: 4,
  backgroundColor: tint("panel"),
  "&:hover": { borderColor: tint("history") },
  "&.Mui-focused": { borderColor: tint("brass") },
});
