import { Moon, Sun } from "lucide-react";
import { useEffect, useState } from "react";
import { Button } from "./button";
import { Slider } from "./slider";
import { recall, remember } from "./stored";

const DARKEST = 0.15;

const storedTheme = () => recall("theme", "soot", ["soot", "ash"]);
const storedDim = () => Math.min(1, Math.max(DARKEST, Number(recall("dim", "1")) || 1));

function apply(theme: string, dim: number) {
  document.documentElement.dataset.theme = theme;
  document.documentElement.style.setProperty("--dim", String(dim));
}

/** Applies the stored theme and dimming; called once before the first paint of any screen. */
export const applyTheme = () => apply(storedTheme(), storedDim());

export function ThemeControls() {
  const [theme, setTheme] = useState(storedTheme);
  const [dim, setDim] = useState(storedDim);
  useEffect(() => {
    remember("theme", theme);
    remember("dim", String(dim));
    apply(theme, dim);
  }, [theme, dim]);
  return (
    <div className="flex items-center gap-1">
      <Slider label="Brightness" words={`${Math.round(dim * 100)} %`} min={DARKEST} max={1} step={0.05} value={dim} onChange={setDim} className="hidden w-16 lg:flex" />
      <Button size="small" look="quiet" onClick={() => setTheme(theme === "soot" ? "ash" : "soot")} aria-label={theme === "soot" ? "Day theme" : "Night theme"}>
        {theme === "soot" ? <Sun className="size-4" /> : <Moon className="size-4" />}
      </Button>
    </div>
  );
}
