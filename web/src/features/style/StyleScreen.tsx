import { useState, type ReactNode } from "react";
import type { Control } from "../../api/client";
import { BarGauge } from "../../ui/bar-gauge";
import { Button } from "../../ui/button";
import { Combobox } from "../../ui/combobox";
import { Dial } from "../../ui/controls/Dial";
import { GuardedSwitch } from "../../ui/controls/GuardedSwitch";
import { Knob } from "../../ui/controls/Knob";
import { Lever } from "../../ui/controls/Lever";
import { SprungSwitch } from "../../ui/controls/SprungSwitch";
import { ToggleSwitch } from "../../ui/controls/ToggleSwitch";
import { Wheels } from "../../ui/controls/Wheels";
import { Dialog } from "../../ui/dialog";
import { ChoiceField, NumberField, TextField } from "../../ui/field";
import { Fold } from "../../ui/fold";
import { Hint } from "../../ui/hint";
import { Page } from "../../ui/page";
import { RadioCards } from "../../ui/radio-cards";
import { Segments } from "../../ui/segments";
import { Signature, SignaturePair } from "../../ui/signature";
import { Slider } from "../../ui/slider";
import { Shape, statusText, type Status } from "../../ui/status";
import { Switch } from "../../ui/switch";
import { Tabs } from "../../ui/tabs";
import { Tick } from "../../ui/tick";
import { showToast } from "../../ui/toast-store";

/** Every primitive in every state, in both themes: what the browser's tests look at, and whoever adds another. */
export default function StyleScreen() {
  return (
    <Page screen="style">
      <h1 className="mb-3 text-2xl font-bold">Style guide</h1>
      <div className="grid gap-4 xl:grid-cols-2">
        {(["soot", "ash"] as const).map((theme) => (
          <div key={theme} data-theme={theme} className="flex flex-col gap-3 rounded-lg bg-ground p-4 text-bone">
            <h2 className="font-bold">{theme === "soot" ? "Soot, the night" : "Ash, the day"}</h2>
            <Texts />
            <Buttons />
            <Choices theme={theme} />
            <Fields theme={theme} />
            <Overlays theme={theme} />
            <Switches theme={theme} />
            <Gauges theme={theme} />
            <Signatures theme={theme} />
          </div>
        ))}
      </div>
    </Page>
  );
}

function Group({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section data-group={title} className="rounded-lg bg-panel p-3">
      <h3 className="mb-2 text-xs text-pale">{title}</h3>
      <div className="flex flex-wrap items-start gap-3">{children}</div>
    </section>
  );
}

const statuses: readonly (readonly [Status, string])[] = [
  ["off", "off"],
  ["advisory", "aligning"],
  ["ready", "ready"],
  ["caution", "low"],
  ["warning", "hot"],
];

function Texts() {
  return (
    <Group title="Text and status">
      <p className="text-2xl font-bold">Large</p>
      <p className="text-base">Plain</p>
      <p className="text-sm text-pale">Pale</p>
      <p className="num text-xl">
        465 <span className="text-2xs text-pale">°C</span>
      </p>
      {statuses.map(([status, word]) => (
        <span key={status} className={`flex items-center gap-1 text-sm ${statusText[status]}`}>
          <Shape status={status} />
          {word}
        </span>
      ))}
    </Group>
  );
}

function Buttons() {
  return (
    <Group title="Buttons">
      {(["primary", "plain", "quiet"] as const).flatMap((look) => [
        <Button key={look} look={look}>
          {look}
        </Button>,
        <Button key={`${look} off`} look={look} disabled>
          {look}, off
        </Button>,
      ])}
      <Button size="small">small</Button>
      <Button size="large">large</Button>
    </Group>
  );
}

const letters = [
  ["", "nothing"],
  ["a", "Alder", "two engines"],
  ["b", "Bramble", "one"],
] as const;

function Choices({ theme }: { theme: string }) {
  const [one, setOne] = useState("a");
  const [card, setCard] = useState("a");
  const [tab, setTab] = useState("a");
  const [on, setOn] = useState(true);
  const [level, setLevel] = useState(0.5);
  return (
    <Group title="Choices">
      <div className="w-40">
        <ChoiceField label={`Choice, ${theme}`} name={`choice-${theme}`} value={one} onChange={setOne} options={letters} />
      </div>
      <RadioCards
        label={`Cards, ${theme}`}
        value={card}
        onChange={setCard}
        className="flex gap-2"
        cardClassName="px-3 py-1.5"
        options={[
          { value: "a", content: "one" },
          { value: "b", content: "other" },
        ]}
      />
      <Segments
        label={`Segments, ${theme}`}
        value={card}
        onChange={setCard}
        options={[
          ["a", "off"],
          ["b", "on"],
        ]}
      />
      <Switch label={`Switch, ${theme}`} on={on} onChange={setOn} />
      <Tick label={`Tick, ${theme}`} on={on} onChange={setOn} />
      <Tick label={`Tick, off, ${theme}`} on={!on} onChange={() => undefined} disabled />
      <Slider label={`Slider, ${theme}`} value={level} min={0} max={1} step={0.1} onChange={setLevel} className="w-32" />
      <Tabs
        label={`Tabs, ${theme}`}
        value={tab}
        onChange={setTab}
        tabs={[
          { value: "a", label: "Readings", content: <p className="text-sm">What is read</p> },
          { value: "b", label: "At idle", content: <p className="text-sm">What is normal</p> },
        ]}
      />
    </Group>
  );
}

function Fields({ theme }: { theme: string }) {
  const [text, setText] = useState("");
  return (
    <Group title="Fields">
      <div className="w-36">
        <TextField label={`Text, ${theme}`} defaultValue="Tinder" note="Said under it." />
      </div>
      <div className="w-36">
        <NumberField label={`Number, ${theme}`} unit="°C" defaultValue="-24" />
      </div>
      <div className="w-36">
        <NumberField label={`Wrong, ${theme}`} name={`wrong-${theme}`} unit="kt" defaultValue="900" wrong="From 0 to 100." />
      </div>
      <div className="w-56">
        <Combobox
          label={`Combobox, ${theme}`}
          placeholder="type a word"
          text={text}
          onText={setText}
          items={[
            { value: "battery", words: "battery", content: "Battery" },
            { value: "bleed", words: "bleed valve", content: "Bleed valve" },
          ]}
          onPick={(to) => showToast(`Picked: ${to}`)}
          empty="Nothing is called that."
        />
      </div>
    </Group>
  );
}

function Overlays({ theme }: { theme: string }) {
  const [open, setOpen] = useState(false);
  return (
    <Group title="What opens">
      <Button data-testid={`open-dialog-${theme}`} onClick={() => setOpen(true)}>
        Dialog
      </Button>
      <Dialog open={open} onClose={() => setOpen(false)} title="A dialog">
        <p className="text-sm">What stands behind it cannot be reached until it is closed.</p>
        <Button className="mt-3" onClick={() => setOpen(false)}>
          Close it
        </Button>
      </Dialog>
      <Hint text="A few words about it.">
        <Button>Hint</Button>
      </Hint>
      <Button onClick={() => showToast("Something was done.")}>Note</Button>
      <Button onClick={() => showToast("Something was not done.", "caution")}>Caution</Button>
      <Fold title="Fold" about="shut" className="text-sm">
        <p className="text-pale">What is rarely wanted.</p>
      </Fold>
    </Group>
  );
}

const control = (id: string, kind: Control["kind"], positions: string[], more: Partial<Control> = {}): Control =>
  ({ id, label: id, kind, link: "style", positions, sprung: [], min: 0, max: 30, step: 0.5, unit: "units", ...more }) as Control;

function Switches({ theme }: { theme: string }) {
  const [at, setAt] = useState<Record<string, string>>({});
  const [number, setNumber] = useState(11);
  const kinds = [
    [ToggleSwitch, control(`Toggle ${theme}`, "toggle", ["off", "on"])],
    [GuardedSwitch, control(`Guarded ${theme}`, "guarded", ["normal", "shut"])],
    [SprungSwitch, control(`Sprung ${theme}`, "sprung", ["rest", "pressed"], { sprung: ["pressed"] })],
    [Knob, control(`Knob ${theme}`, "knob", ["off", "standby", "field", "navigate"])],
    [Lever, control(`Lever ${theme}`, "lever", ["cut-off", "idle", "full"])],
    [Dial, control(`Dial ${theme}`, "dial", [])],
    [Wheels, control(`Wheels ${theme}`, "dial", [], { max: 99, step: 1 })],
  ] as const;
  return (
    <Group title="Controls">
      {kinds.map(([Kind, c]) => {
        const set = (to: string) => setAt((before) => ({ ...before, [c.id]: to }));
        return (
          <div key={c.id} data-control={c.id.split(" ")[0]!.toLowerCase()} className="w-56 rounded bg-raised/60 p-2">
            <p className="mb-1 text-xs">{c.label}</p>
            <Kind
              control={c}
              position={at[c.id] ?? c.positions[0] ?? ""}
              number={number}
              disabled={false}
              onSet={set}
              onHold={set}
              onRelease={() => set(c.positions[0]!)}
              onDial={setNumber}
            />
          </div>
        );
      })}
    </Group>
  );
}

function Gauges({ theme }: { theme: string }) {
  const gauge = { label: `Gas temperature, ${theme}`, min: 0, max: 1000, normal: [430, 500], limits: [{ at: 785, kind: "warning", label: "start limit" }] };
  return (
    <Group title="Bar gauges">
      {(
        [
          ["alive", { value: 465 }],
          ["peak and ahead", { value: 600, peak: 640, ahead: 720 }],
          ["over the limit", { value: 820, peak: 820 }],
          ["without power", { value: 0, blind: "no power" }],
        ] as const
      ).map(([name, more]) => (
        <div key={name} className="w-56">
          <BarGauge gauge={{ ...gauge, label: `${gauge.label}: ${name}` }} unit="°C" quantum={1} {...more} />
        </div>
      ))}
    </Group>
  );
}

const links = [
  { id: "battery", label: "Battery", seconds: 12 },
  { id: "core", label: "Core", seconds: 140 },
  { id: "alignment", label: "Alignment", seconds: 200 },
  { id: "ready", label: "Ready", seconds: 60 },
];

function Signatures({ theme }: { theme: string }) {
  return (
    <Group title="Signatures">
      <Signature label={`A start, ${theme}`} links={links} className="w-40" />
      <div className="w-full">
        <SignaturePair
          named="page"
          upper={{ label: `This start, ${theme}`, links }}
          lower={{ label: `By the book, ${theme}`, links: links.map((l) => ({ ...l, seconds: l.seconds * 0.8 })) }}
        />
      </div>
    </Group>
  );
}
