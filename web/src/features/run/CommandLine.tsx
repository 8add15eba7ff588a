import { Command } from "cmdk";
import { useMemo, useState, type KeyboardEvent } from "react";
import type { RunConnection } from "../../api/run-connection";
import { isHere } from "./is-here";
import { nearest, suggest, type Suggestion, type Vocabulary } from "./command-line";
import { useRun } from "./context";
import { useRunUi } from "./run-ui";

interface Entry {
  text: string;
  answer: string;
  wrong: boolean;
}

/** Suggestions shown; the best is done by Enter. */
const SHOWN = 6;

// It outlives the line being closed and opened again, and a fork of the run.
const history: Entry[] = [];

/** Works any control by part of its name and a position: "batt on", "fire test inner 17s", "look brake", "trim 11", "report bulb". */
export function CommandLine({ onClose }: { onClose: () => void }) {
  const { panel, connection } = useRun();
  const ui = useRunUi();
  const [text, setText] = useState("");
  const [back, setBack] = useState(0);
  const [, setCount] = useState(0);
  const vocabulary = useMemo<Vocabulary>(
    () => ({
      controls: panel.controls.filter((c) => isHere(c, connection)),
      readings: [...panel.gauges.map((g) => ({ name: g.signal, label: g.label })), ...panel.lamps.map((l) => ({ name: `lamp.${l.id}`, label: `Lamp ${l.label}` }))],
      faults: panel.faults,
    }),
    [panel, connection],
  );
  const found = suggest(vocabulary, text);
  // Which of them is marked: the best until an arrow is pressed, and again after every letter, so that Enter never does what stood there before.
  const [at, setAt] = useState(0);
  const shown = found.slice(0, SHOWN);
  const best = shown[at] ?? found[0];
  const type = (to: string) => {
    setText(to);
    setAt(0);
  };
  const note = (answer: string, wrong: boolean) => {
    history.push({ text, answer, wrong });
    setCount(history.length);
  };
  const run = (best: Suggestion | undefined) => {
    if (text.trim() === "") {
      return;
    }

    setBack(0);
    type("");
    if (!best) {
      note(nearest(vocabulary, text), true);
    } else if (best.verb === "why") {
      note(best.label, false);
      ui.why(best.target);
    } else {
      perform(connection, best).then(
        () => note(best.label, false),
        (error: Error) => note(error.message, true),
      );
    }
  };
  const recall = (by: number) => {
    const to = Math.min(history.length, Math.max(0, back + by));
    setBack(to);
    type(to === 0 ? "" : history[history.length - to]!.text);
  };
  const onKeyDown = (e: KeyboardEvent) => {
    if (e.key === "Escape") {
      onClose();
    } else if (e.key === "Enter") {
      e.preventDefault();
      run(best);
    } else if (e.key === "ArrowUp" && (back > 0 || at === 0)) {
      e.preventDefault();
      recall(1);
    } else if (e.key === "ArrowDown" && back > 0) {
      e.preventDefault();
      recall(-1);
    }
  };
  return (
    <section aria-label="Command line" className="border-t border-heather bg-panel px-4 py-2" data-testid="command-line">
      <ol className="max-h-16 overflow-hidden text-xs" aria-live="polite" aria-label="Done by the command line">
        {history.slice(-3).map((h, i) => (
          <li key={`${history.length}/${i}`} className={h.wrong ? "text-caution" : "text-pale"}>
            {h.wrong ? "▲ " : "✓ "}
            {h.answer}
          </li>
        ))}
      </ol>
      <Command
        label="Command line"
        shouldFilter={false}
        disablePointerSelection
        value={best && keyOf(best)}
        onValueChange={(to) =>
          setAt(
            Math.max(
              0,
              shown.findIndex((f) => keyOf(f) === to),
            ),
          )
        }
        onKeyDown={onKeyDown}
      >
        <Command.List label="What it would do" className="min-h-5 text-xs *:flex *:flex-wrap *:gap-x-4">
          {shown.map((f) => (
            <Command.Item key={keyOf(f)} value={keyOf(f)} onSelect={() => run(f)} className="cursor-pointer text-pale data-[selected=true]:text-heather">
              {f.label}
            </Command.Item>
          ))}
          {text.trim() !== "" && found.length === 0 && <p className="text-caution">▲ {nearest(vocabulary, text)}</p>}
          {text.trim() === "" && <p className="text-pale">Enter does it · ↓ another · ↑ recalls · Esc closes</p>}
        </Command.List>
        <Command.Input
          autoFocus
          aria-label="Command"
          className="mt-1 w-full max-w-xl text-base"
          value={text}
          onValueChange={type}
          placeholder="battery on · look brake · why crank"
        />
      </Command>
    </section>
  );
}

const keyOf = (s: Suggestion) => `${s.verb}/${s.target}/${s.position ?? s.number ?? ""}`;

async function perform(connection: RunConnection, s: Suggestion): Promise<void> {
  switch (s.verb) {
    case "look":
      await connection.send("Look", s.target);
      break;
    case "report":
      await connection.send("Report", s.target, s.position ?? null);
      break;
    case "release":
      await connection.send("Release", s.target);
      break;
    case "set":
      await (s.number !== undefined ? connection.send("Dial", s.target, s.number) : connection.send("Set", s.target, s.position));
      break;
    case "hold": {
      await connection.send("Hold", s.target, s.position);
      if (s.seconds === undefined) {
        return;
      }

      const until = connection.time + s.seconds;
      const off = connection.onSignal("time", () => {
        if (connection.time >= until) {
          off();
          void connection.send("Release", s.target).catch(() => undefined);
        }
      });
    }
  }
}
