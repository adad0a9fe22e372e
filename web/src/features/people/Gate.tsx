// The door of a server of several people: whoever is not signed in sees this instead of everything else. A person alone on their machine
// walks through.
import Dialog from "@mui/material/Dialog";
import { useQueryClient } from "@tanstack/react-query";
import { lazy, type ReactNode, Suspense } from "react";
import { useWho } from "../../api/people";
import { Failed, Loading } from "../../components/States";
import { amongSeveral, cameIn, usePresence } from "../../headless/presence";

const Door = lazy(async () => ({ default: (await import("./Door")).Door }));
const JoinPage = lazy(async () => ({ default: (await import("./JoinPage")).JoinPage }));
const SecondFactorFirst = lazy(async () => ({
  default: (await import("./SecondFactorFirst")).SecondFactorFirst,
}));
const ConfirmDialog = lazy(async () => ({ default: (await import("./ConfirmDialog")).ConfirmDialog }));

const JOIN = "/join";

export function Gate({ children }: { children: ReactNode }) {
  return amongSeveral ? <Guarded>{children}</Guarded> : children;
}

function Guarded({ children }: { children: ReactNode }) {
  const who = useWho(true);
  const ended = usePresence((s) => s.ended);
  const asked = usePresence((s) => s.asked);
  const queries = useQueryClient();
  const enter = (name: string) => {
    if (cameIn(name)) window.location.assign(window.location.pathname === JOIN ? "/" : window.location.href);
    else void queries.invalidateQueries();
  };
  const path = window.location.pathname;
  if (path === JOIN) {
    return (
      <Suspense fallback={<Loading />}>
        <JoinPage token={window.location.hash.slice(1)} enter={enter} />
      </Suspense>
    );
  }
  if (who.error) return <Failed error={who.error} retry={() => void who.refetch()} />;
  if (!who.data) return <Loading />;
  if (!who.data.who) {
    return (
      <Suspense fallback={<Loading />}>
        <Door enter={enter} />
      </Suspense>
    );
  }
  return (
    <>
      {who.data.who.second_factor_first ? (
        <Suspense fallback={<Loading />}>
          <SecondFactorFirst name={who.data.who.name} />
        </Suspense>
      ) : (
        children
      )}
      <Suspense>
        {/* What was typed stays where it is, behind it. */}
        {ended && (
          <Dialog open fullScreen aria-label="Sign in again">
            <Door enter={enter} again={who.data.who.name} />
          </Dialog>
        )}
        {asked && <ConfirmDialog asked={asked} />}
      </Suspense>
    </>
  );
}
