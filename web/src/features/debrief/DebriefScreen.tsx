import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { api, type Debrief, type Finding } from "../../api/client";
import { Button, buttonLook } from "../../ui/button";
import { Fold } from "../../ui/fold";
import { clock, number } from "../../ui/format";
import { GoPlot } from "../../ui/go-plot";
import { Page } from "../../ui/page";
import { Shape, statusText, type Status } from "../../ui/status";
import { showToast } from "../../ui/toast-store";
import { WhyChains } from "../../ui/why-chains";
import { Beside } from "./Beside";
import { EngineStarts } from "./EngineStarts";
import { EvidenceTraces } from "./EvidenceTraces";
import { FlightFlown } from "./FlightFlown";
import { TimeHeld } from "./TimeHeld";
import { verdicts } from "../../ui/verdicts";

const severity: Record<string, Status> = { note: "advisory", caution: "caution", warning: "warning", damage: "warning" };

/** A flight is not made ready to launch. */
const flownWords: Record<string, string> = { "launch-ready": "Well flown", "ready-with-defects": "Flown, with defects", "not-ready": "Not brought back" };

export default function DebriefScreen() {
  const { id = "" } = useParams();
  const debrief = useQuery({ queryKey: ["debrief", id], queryFn: ({ signal }) => api.debrief(id, signal) });
  return (
    <Page screen="debrief">
      {debrief.isPending && <Replaying />}
      {debrief.error && (
        <p className="text-caution">
          ▲ {debrief.error.message}{" "}
          <Link to="/logbook" className="text-heather underline">
            Back to the logbook
          </Link>
        </p>
      )}
      {debrief.data && <Body d={debrief.data} />}
    </Page>
  );
}

/** How far it is, and a way out: who leaves the page cancels what was asked. */
function Replaying() {
  const work = useQuery({ queryKey: ["work"], queryFn: api.work, refetchInterval: 1000 });
  const before = (work.data?.waiting ?? 0) - 1;
  return (
    <p className="text-pale">
      Replaying the run… {before > 0 && `${before} ${before === 1 ? "question" : "questions"} before it. `}
      <Link to="/logbook" className="text-heather underline">
        Back to the logbook
      </Link>
    </p>
  );
}

function Body({ d }: { d: Debrief }) {
  const [at, setAt] = useState<number | null>(null);
  const [search, setSearch] = useSearchParams();
  // A fork is held against what it was forked from until another run is chosen, or none.
  const beside = search.get("with") ?? d.parent ?? "";
  const chosen = useQuery({ queryKey: ["debrief", beside], queryFn: ({ signal }) => api.debrief(beside, signal), enabled: beside !== "", retry: false }).data;
  // What the comparison refuses is not drawn either.
  const other = chosen?.header.aircraft === d.header.aircraft && (chosen.header.flight == null) === (d.header.flight == null) ? chosen : undefined;
  const navigate = useNavigate();
  const flies = d.header.flight != null && !d.ended;
  const verdict = flies ? ({ status: "advisory", word: "Not ended" } as const) : (verdicts[d.judgement.verdict] ?? verdicts["not-ready"]!);
  const fork = (t: number) =>
    api
      .fork(d.id, t)
      .then(({ id }) => navigate(`/run/${id}`))
      .catch((error: Error) => showToast(error.message, "caution"));
  return (
    <div className="mx-auto grid max-w-[110rem] gap-4 lg:grid-cols-[27rem_minmax(0,1fr)]">
      <div className="flex flex-col gap-4">
        <section className="rounded-lg bg-panel p-4" aria-label="Verdict">
          <p className={`flex items-center gap-2 text-sm ${statusText[verdict.status]}`} data-testid="verdict" data-verdict={d.judgement.verdict}>
            <Shape status={verdict.status} /> {(d.flight && flownWords[d.judgement.verdict]) || verdict.word}
          </p>
          <h1 className="mt-1 text-xl font-bold">{d.judgement.sentence}</h1>
          <p className="mt-2 text-xs text-pale">
            {d.title} · {d.header.pilot || "no callsign"} · {d.header.spot} · {d.header.conditions.oatC} °C
            {d.header.conditions.night && " · night"} · {clock(d.seconds)} ·{" "}
            {peaks(d)}
          </p>
          {d.damage && (
            <p role="alert" className="mt-2 text-sm text-caution">
              ▲ This run is damaged: {d.damage}.
            </p>
          )}
          {d.recomputed && (
            <p role="note" className="mt-2 text-sm text-pale">
              {d.ended && "The verdict is the one that was given. "}
              {d.recomputed}
            </p>
          )}
          <div className="mt-3 flex flex-wrap gap-2">
            {!d.ended && !d.damage && (
              <Button look="primary" onClick={() => navigate(`/run/${d.id}`)}>
                Go on flying
              </Button>
            )}
            <a className={buttonLook()} href={`/api/runs/${d.id}/file`} download>
              Export the run
            </a>
            <a className={buttonLook()} href={`/api/runs/${d.id}/file?data=true`} download>
              Export with its data
            </a>
            {!d.damage && (
              <Link className={buttonLook()} to={`/?run=${d.id}`}>
                Set it up again
              </Link>
            )}
            {at !== null && <Button onClick={() => void fork(Math.min(at, d.seconds))}>Fly on from {clock(at)}</Button>}
          </div>
        </section>
        <section className="rounded-lg bg-panel p-4" aria-label="Findings">
          <h2 className="font-bold">Findings</h2>
          {d.judgement.findings.length === 0 && <p className="mt-1 text-sm text-pale">Nothing to find fault with.</p>}
          <ul className="mt-2 flex flex-col gap-2">
            {d.judgement.findings
              .filter((f) => f.code !== "omitted")
              .map((f, i) => (
                <FindingRow key={i} d={d} f={f} onShow={() => setAt(f.from)} />
              ))}
          </ul>
          <Omitted d={d} findings={d.judgement.findings.filter((f) => f.code === "omitted")} />
        </section>
      </div>
      <div className="flex min-w-0 flex-col gap-4">
        {!flies && <Beside d={d} other={beside} onOther={(id) => setSearch({ with: id }, { replace: true })} />}
        {d.flight && <FlightFlown d={d} at={at} other={other} />}
        <EvidenceTraces debrief={d} at={at} onPick={setAt} />
        <TimeHeld d={d} onPick={setAt} />
        <EngineStarts d={d} other={other} onPick={setAt} />
        {d.leg && (
          <section className="rounded-lg bg-panel p-4" aria-label="The alignment, flown on">
            <h2 className="mb-2 font-bold">The alignment, flown on</h2>
            <GoPlot answer={d.leg.asked} aligned={d.leg.asked.nowS ?? 0} sentence={d.leg.sentence} cameNm={d.leg.cameNm} />
          </section>
        )}
        {d.steps.length > 0 && <Steps d={d} onPick={setAt} />}
        {flies && (
          <p className="rounded-lg bg-panel p-4 text-sm text-pale">The flight still goes on. Its steps, what was left out and what it came to are told once it has ended.</p>
        )}
      </div>
    </div>
  );
}

/** The hottest of each engine that was lit. */
function peaks(d: Debrief): string {
  const all = Object.entries(d.summary.peakC);
  return all.length === 0 ? "no engine was lit" : `peak ${all.map(([side, c]) => (all.length > 1 ? `${side} ${c} °C` : `${c} °C`)).join(", ")}`;
}

/** Few steps left out are findings of their own; many are one list, so that they bury nothing. */
function Omitted({ d, findings }: { d: Debrief; findings: Finding[] }) {
  if (findings.length === 0) {
    return null;
  }

  return (
    <Fold
      startsOpen={findings.length <= 6}
      className="mt-3 border-t border-line pt-2 text-sm"
      title={
        <>
          <span className="text-caution">▲</span> Left out: {findings.length} {findings.length === 1 ? "step" : "steps"}
        </>
      }
    >
      <ul className="mt-1 pl-5 text-xs">
        {findings.map((f) => (
          <li key={f.step} data-testid="finding" data-code="omitted" className="py-1">
            {f.what}
            <span className="block text-pale">{f.consequence}</span>
            <WhyThen d={d} f={f} />
          </li>
        ))}
      </ul>
    </Fold>
  );
}

function FindingRow({ d, f, onShow }: { d: Debrief; f: Finding; onShow: () => void }) {
  const status = severity[f.severity] ?? "caution";
  return (
    <li data-testid="finding" data-code={f.code} className="border-t border-line pt-2 text-sm">
      <button type="button" className="flex w-full items-start gap-2 text-left" onClick={onShow}>
        <Shape status={status} />
        <span className="flex-1">
          {f.what}
          <span className="num ml-2 text-2xs text-pale">{clock(f.from)}</span>
        </span>
      </button>
      <div className="mt-1 pl-5 text-xs text-pale">
        <p>{f.consequence}</p>
        <p className="text-bone">{f.instead}</p>
        {f.evidence && (
          <p className="num mt-0.5">
            {f.evidence.label ?? d.labels[f.evidence.signal] ?? "Measured"}: {measured(f.evidence.value)} {f.evidence.unit}
            {f.evidence.limit != null && ` against ${measured(f.evidence.limit)} ${f.evidence.unit}`}
          </p>
        )}
        <WhyThen d={d} f={f} />
      </div>
    </li>
  );
}

/** Why it would not take, as the machine stood at the moment of the finding. */
function WhyThen({ d, f }: { d: Debrief; f: Finding }) {
  const signal = f.evidence?.signal;
  const target = d.steps.find((s) => s.id === f.step)?.target ?? (signal && signal in d.traces.columns ? signal : undefined);
  return target ? (
    <Fold testId="why-then" className="mt-1" title={<span className="text-heather underline">Why, at {clock(f.from)}?</span>}>
      <AnswerThen run={d.id} target={target} at={f.from} />
    </Fold>
  ) : null;
}

function AnswerThen({ run, target, at }: { run: string; target: string; at: number }) {
  const answer = useQuery({ queryKey: ["why", run, target, at], queryFn: () => api.why(run, target, at), retry: false });
  return (
    <>
      {answer.error && <p className="text-caution">▲ {answer.error.message}</p>}
      {answer.data && (
        <div data-testid="why" data-target={target} className="text-bone">
          <p>
            {answer.data.label}: {answer.data.sentence}
          </p>
          <WhyChains answer={answer.data} />
        </div>
      )}
    </>
  );
}

function Steps({ d, onPick }: { d: Debrief; onPick: (t: number) => void }) {
  const total = Math.max(1, d.seconds);
  const steps = [...d.steps].sort((a, b) => (a.firstDone < 0 ? 1e9 : a.firstDone) - (b.firstDone < 0 ? 1e9 : b.firstDone));
  return (
    <section className="rounded-lg bg-panel p-4" aria-label="Steps in the order done">
      <h2 className="mb-2 font-bold">Steps, in the order done</h2>
      <ol className="columns-1 gap-6 text-xs md:columns-2">
        {steps.map((s) => (
          <li key={s.id} className="break-inside-avoid py-0.5">
            <button type="button" disabled={s.firstDone < 0} onClick={() => onPick(s.firstDone)} className="flex w-full items-center gap-2 text-left hover:text-heather">
              <span className={`w-3 ${s.done ? "text-ready" : "text-caution"}`}>{s.done ? "✓" : "▲"}</span>
              <span className="flex-1 truncate">{s.cue}</span>
              <span className="num text-pale">{s.firstDone < 0 ? "never" : s.wasSo ? "already set" : clock(s.firstDone)}</span>
            </button>
            <div className="mt-0.5 ml-5 h-0.5 bg-raised">
              <div className="h-full bg-pale" style={{ width: `${s.firstDone < 0 ? 0 : (s.firstDone / total) * 100}%` }} />
            </div>
          </li>
        ))}
      </ol>
    </section>
  );
}

/** As the judge rounded it. */
const measured = (value: number) => (Number.isInteger(value) ? number(value, 1) : String(value));
