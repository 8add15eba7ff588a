import { Moon, Sun } from "lucide-react";
import { useEffect, useState } from "react";
import { Button } from "./button";

const read = (key: string, otherwise: string) => localStorage.getItem(key) ?? otherwise;

/** Applies the stored theme and dimming; called once before the first paint of any screen. */
export function applyTheme() {
  document.documentElement.dataset.theme = read("theme", "soot");
  document.documentElement.style.setProperty("--dim", read("dim", "1"));
}

export function ThemeControls() {
  const [theme, setTheme] = useState(() => read("theme", "soot"));
  const [dim, setDim] = useState(() => read("dim", "1"));
  useEffect(() => {
    localStorage.setItem("theme", theme);
    localStorage.setItem("dim", dim);
    applyTheme();
  }, [theme, dim]);
  return (
    <div className="flex items-center gap-1">
      <input type="range" min="0.15" max="1" step="0.05" value={dim} onChange={(e) => setDim(e.target.value)} aria-label="Brightness" title="Brightness" className="hidden w-16 p-0 accent-(--heather) lg:block" />
      <Button size="small" look="quiet" onClick={() => setTheme(theme === "soot" ? "ash" : "soot")} aria-label={theme === "soot" ? "Day theme" : "Night theme"}>
        {theme === "soot" ? <Sun className="size-4" /> : <Moon className="size-4" />}
      </Button>
    </div>
  );
}
