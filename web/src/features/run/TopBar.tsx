import { CircleHelp, Pause, Play, Square } from "lucide-react";
import { memo, useCallback, useState, useSyncExternalStore } from "react";
import { Link, useNavigate } from "react-router";
import { Button } from "../../ui/button";
import { clock } from "../../ui/format";
import { Segments } from "../../ui/segments";
import { ThemeControls } from "../../ui/theme";
import { showToast } from "../../ui/toast-store";
import { useRun, useRunPart, useSend, useSeconds } from "./context";
import { SoundControl } from "./SoundControl";

const rates = [1, 2, 4, 8].map((r) => [String(r), `×${r}`] as const);

/** The last ten minutes of the longest run. */
const LAST_WORD_S = 600;

export const TopBar = memo(function TopBar({ onKeyList }: { onKeyList: () => void }) {
  const { connection } = useRun();
  const link = useRunPart((s) => s.link);
  const rate = useRunPart((s) => s.rate);
  const paused = useRunPart((s) => s.paused);
  const ended = useRunPart((s) => s.ended);
  const [ending, setEnding] = useState(false);
  const send = useSend();
  const navigate = useNavigate();
  const looks = connection.role === "look";
  const header = connection.snapshot!.header;
  const end = () => {
    setEnding(true);
    connection
      .send("End")
      .then(() => navigate(`/debrief/${connection.id}`))
      .catch((error: Error) => {
        setEnding(false);
        showToast(error.message, "caution");
      });
  };
  return (
    <header className="flex h-11 items-center gap-2 border-b border-line px-3 whitespace-nowrap max-sm:h-auto max-sm:flex-wrap max-sm:py-1.5 lg:gap-3">
      <Link to="/" className="font-bold whitespace-nowrap">
        Hardy Ember
      </Link>
      <h1 className="sr-only min-w-0 text-xs text-pale lg:not-sr-only lg:truncate">
        {connection.snapshot!.title}
        {header.pilot && ` · ${header.pilot}`} · {header.spot} · {header.conditions.oatC} °C{header.conditions.night && " · night"}
      </h1>
      <span className="flex-1" />
      {!looks && <NearTheEnd />}
      {link === "catching-up" && (
        <span className="rounded bg-high px-2 py-1 text-xs text-advisory" data-testid="catching-up">
          ◆ catching up
        </span>
      )}
      {looks && (
        <span className="rounded bg-high px-2 py-1 text-xs text-advisory" data-testid="looks-on">
          ◆ looking on
        </span>
      )}
      <FrameMark />
      <Clock />
      <Segments label="Rate" value={String(rate)} onChange={(to) => send("Rate", Number(to))} disabled={looks} options={rates} className="num" />
      <Button size="small" onClick={() => send("Pause", !paused)} disabled={ended || looks} data-testid="pause" className={paused && !ended ? "border-heather text-heather" : ""}>
        {paused ? <Play className="mr-1 inline size-3.5" /> : <Pause className="mr-1 inline size-3.5" />}
        {paused ? "Go on" : "Pause"}
      </Button>
      {ended ? (
        <Button size="small" look="primary" onClick={() => navigate(`/debrief/${connection.id}`)}>
          Debrief
        </Button>
      ) : (
        <Button size="small" onClick={end} disabled={ending || looks} data-testid="end-run">
          <Square className="mr-1 inline size-3.5" />
          End run
        </Button>
      )}
      <SoundControl />
      <ThemeControls />
      <Button size="small" look="quiet" onClick={onKeyList} aria-label="Help and keys">
        <CircleHelp className="size-4" />
      </Button>
    </header>
  );
});

function Clock() {
  const seconds = useSeconds();
  return (
    <span className="num text-lg" data-testid="clock" aria-label="Run time">
      {clock(seconds)}
    </span>
  );
}

/** What the page has shown and what it waits for, for whoever drives it. */
function FrameMark() {
  const { connection } = useRun();
  const frame = useSyncExternalStore(
    useCallback((listener: () => void) => connection.onSignal("time", listener), [connection]),
    () => connection.frame,
  );
  const pending = useRunPart((s) => s.pending);
  return <span hidden data-testid="frame" data-frame={frame} data-pending={pending} data-run={connection.id} />;
}

/** A run ends by itself; it says so in time. */
function NearTheEnd() {
  const { connection } = useRun();
  const ended = useRunPart((s) => s.ended);
  const left = connection.snapshot!.longestS - useSeconds();
  return !ended && left <= LAST_WORD_S ? (
    <span className="rounded bg-high px-2 py-1 text-xs text-caution" data-testid="near-the-end">
      ▲ this run ends by itself in {clock(left)}
    </span>
  ) : null;
}
