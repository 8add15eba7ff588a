import clsx from "clsx";
import { Command } from "cmdk";
import type { KeyboardEvent, ReactNode } from "react";

export interface ComboItem {
  value: string;
  content: ReactNode;
  /** What is searched; every word typed must be in it. */
  words: string;
  data?: Record<string, string>;
}

interface Props {
  label: string;
  placeholder?: string;
  items: readonly ComboItem[];
  onPick: (value: string) => void;
  empty: ReactNode;
  autoFocus?: boolean;
  /** Nothing is listed until something is typed. */
  quiet?: boolean;
  /** At most so many are listed. */
  most?: number;
  listClassName?: string;
  /** What is marked, where the caller keeps it. */
  marked?: string;
  onMark?: (value: string) => void;
  text: string;
  onText: (text: string) => void;
  onKeyDown?: (e: KeyboardEvent) => void;
}

/** Whether every word typed is in what can be found. */
const holds = (item: ComboItem, text: string) =>
  text
    .toLowerCase()
    .split(/\s+/)
    .every((w) => item.words.toLowerCase().includes(w));

/** Type part of a name, go through what fits by arrows, Enter takes it. */
export function Combobox({
  label,
  placeholder,
  items,
  onPick,
  empty,
  autoFocus,
  quiet = false,
  most = items.length,
  listClassName,
  marked,
  onMark,
  text,
  onText,
  onKeyDown,
}: Props) {
  const found = quiet && text.trim() === "" ? [] : items.filter((i) => holds(i, text.trim())).slice(0, most);
  return (
    <Command label={label} shouldFilter={false} value={marked} onValueChange={onMark} onKeyDown={onKeyDown} disablePointerSelection loop>
      <Command.Input autoFocus={autoFocus} aria-label={label} placeholder={placeholder} value={text} onValueChange={onText} className="field w-full" />
      <Command.List label={label} className={clsx("mt-1.5 overflow-auto", listClassName)}>
        {found.map((i) => (
          <Command.Item
            key={i.value}
            value={i.value}
            onSelect={() => onPick(i.value)}
            className="cursor-pointer rounded border border-transparent px-2 py-1 text-sm data-[selected=true]:border-heather data-[selected=true]:bg-heather-soft"
            {...i.data}
          >
            {i.content}
          </Command.Item>
        ))}
        {found.length === 0 && (!quiet || text.trim() !== "") && <p className="px-2 py-1 text-sm text-caution">▲ {empty}</p>}
      </Command.List>
    </Command>
  );
}
