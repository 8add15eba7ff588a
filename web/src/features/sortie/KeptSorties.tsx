import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Copy, Download, Trash2 } from "lucide-react";
import { useRef, useState } from "react";
import { api, type KeptSortie, type RunHeader, type Schemas, type Sortie } from "../../api/client";
import { Button, buttonLook } from "../../ui/button";
import { Dialog } from "../../ui/dialog";
import { TextField } from "../../ui/field";
import { Hint } from "../../ui/hint";
import { showToast } from "../../ui/toast-store";

const LONGEST_NAME = 60;
const LARGEST_KB = 64;

interface Props {
  fleet: Schemas["FleetView"];
  /** The sortie as it is set up now; null while a number of it is wrong. */
  header: RunHeader | null;
  pilot: string;
  onTake: (sortie: Sortie) => void;
  onClose: () => void;
}

/** Sorties of a callsign: kept under a name, set up again, handed on as a file or an address, forgotten. */
export function KeptSorties({ fleet, header, pilot, onTake, onClose }: Props) {
  const queries = useQueryClient();
  const file = useRef<HTMLInputElement>(null);
  const [name, setName] = useState("");
  // What is forgotten is gone: it takes two presses.
  const [going, setGoing] = useState("");
  const [address, setAddress] = useState<{ of: string; text: string } | null>(null);
  // On the clipboard where the browser allows it, and in any case to be seen and taken by hand.
  const hand = (k: KeptSortie) => {
    const text = new URL(`/?sortie=${k.code}`, window.location.href).href;
    setAddress({ of: k.id, text });
    void navigator.clipboard?.writeText(text).then(
      () => showToast(`The address of “${k.name}” is on the clipboard.`),
      () => undefined,
    );
  };
  const kept = useQuery({ queryKey: ["sorties", pilot], queryFn: () => api.sorties(pilot) });
  const anew = () => void queries.invalidateQueries({ queryKey: ["sorties", pilot] });
  const keep = useMutation({
    mutationFn: () => api.keepSortie({ name: name.trim(), header: header! }),
    onSuccess: (sortie) => {
      setName("");
      showToast(`Kept as “${sortie.name}”.`);
      anew();
    },
  });
  const forget = useMutation({ mutationFn: (s: KeptSortie) => api.forgetSortie(s.id), onSettled: anew });
  const read = useMutation({
    mutationFn: async (f: File) => {
      if (f.size > LARGEST_KB << 10) {
        throw new Error(`${f.name} has ${Math.round(f.size / 1024)} kB; a sortie has at most ${LARGEST_KB}. Nothing was changed.`);
      }

      return api.readSortie(await f.text());
    },
    onSuccess: onTake,
  });
  const trouble = keep.error ?? forget.error ?? read.error ?? kept.error;
  const replaces = kept.data?.some((k) => k.name === name.trim());
  return (
    <Dialog open onClose={onClose} title={`Sorties of ${pilot || "nobody"}`} wide>
      <form
        className="flex items-end gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          keep.mutate();
        }}
      >
        <div className="flex-1">
          <TextField label="Keep what is set up now as" name="sortie-name" value={name} maxLength={LONGEST_NAME} onChange={(e) => setName(e.target.value)} />
        </div>
        <Button type="submit" look="primary" disabled={name.trim() === "" || !header || keep.isPending}>
          {replaces ? "Keep in its place" : "Keep"}
        </Button>
        <input
          ref={file}
          type="file"
          accept=".json"
          className="hidden"
          aria-label="Sortie file"
          onChange={(e) => {
            if (e.target.files?.[0]) {
              read.mutate(e.target.files[0]);
              e.target.value = "";
            }
          }}
        />
        <Button onClick={() => file.current?.click()}>Open a file</Button>
      </form>
      {!header && <p className="mt-1 text-xs text-caution">▲ A number of what is set up is wrong: it cannot be kept like that.</p>}
      {trouble && (
        <p role="alert" className="mt-2 text-sm text-caution">
          ▲ {trouble.message}
        </p>
      )}
      {kept.data?.length === 0 && <p className="mt-4 text-sm text-pale">Nothing is kept yet. A sortie that is kept is there again with its weather, its faults and its seed.</p>}
      <ul className="mt-3 flex flex-col">
        {kept.data?.map((k) => (
          <li key={k.id} data-sortie={k.name} className="flex flex-wrap items-center gap-2 border-t border-line py-2 text-sm">
            <span className="min-w-0 flex-1">
              <b className="block truncate">{k.name}</b>
              <span className="block text-xs text-pale">
                {fleet.aircraft.find((a) => a.id === k.header.aircraft)?.name ?? k.header.aircraft},{" "}
                {fleet.places.find((p) => p.id === k.header.place)?.name ?? k.header.place},{" "}
                {k.header.conditions.oatC} °C{k.header.conditions.night && ", night"}
              </span>
              {k.trouble && <span className="block text-xs text-caution">▲ cannot be flown any more: {k.trouble}</span>}
            </span>
            <Button size="small" disabled={k.trouble != null} onClick={() => onTake(k)}>
              Set it up
            </Button>
            <Hint text="Copy an address that carries this sortie">
              <Button size="small" look="quiet" aria-label={`Copy the address of ${k.name}`} data-code={k.code} onClick={() => hand(k)}>
                <Copy className="size-4" />
              </Button>
            </Hint>
            <Hint text="As a file">
              <a className={buttonLook({ look: "quiet", size: "small" })} aria-label={`${k.name} as a file`} href={`/api/sorties/${k.id}/file`} download>
                <Download className="size-4" />
              </a>
            </Hint>
            {going === k.id ? (
              <Button size="small" autoFocus className="text-caution" onBlur={() => setGoing("")} onClick={() => forget.mutate(k)}>
                Forget it for good
              </Button>
            ) : (
              <Hint text="Forget it">
                <Button size="small" look="quiet" aria-label={`Forget ${k.name}`} onClick={() => setGoing(k.id)}>
                  <Trash2 className="size-4" />
                </Button>
              </Hint>
            )}
            {address?.of === k.id && (
              <input readOnly autoFocus aria-label={`Address of ${k.name}`} className="num w-full text-xs" value={address.text} onFocus={(e) => e.currentTarget.select()} />
            )}
          </li>
        ))}
      </ul>
    </Dialog>
  );
}
