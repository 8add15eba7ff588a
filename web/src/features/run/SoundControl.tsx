import { Volume2, VolumeX } from "lucide-react";
import { useState } from "react";
import { Button } from "../../ui/button";
import { Slider } from "../../ui/slider";
import { setVolume, volume } from "./sound";

/** Mute and volume, at hand. Every sound has its caption: nothing depends on it. */
export function SoundControl() {
  const [loud, setLoud] = useState(volume);
  const set = (to: number) => {
    setVolume(to);
    setLoud(to);
  };
  return (
    <span className="flex items-center gap-1">
      <Button size="small" look="quiet" onClick={() => set(loud > 0 ? 0 : 0.6)} aria-label={loud > 0 ? "Mute" : "Sound on"} aria-pressed={loud === 0}>
        {loud > 0 ? <Volume2 className="size-4" /> : <VolumeX className="size-4" />}
      </Button>
      <Slider label="Volume" words={`${Math.round(loud * 100)} %`} min={0} max={1} step={0.1} value={loud} onChange={set} className="hidden w-12 xl:flex" />
    </span>
  );
}
