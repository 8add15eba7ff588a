import type { RunConnection } from "../../api/run-connection";
import { notYet } from "./missing";

/**
 * Begins what the cue asks for and returns what to call when the finger or key comes up. A cue that came under the finger
 * is not done: a press meant for the oxygen must not put the fuel in. The server looks once more whether the cue is still the one
 * that was on the screen.
 */
export function pressCue(connection: RunConnection, fail: (error: Error) => void): () => void {
  let up = false;
  let held: readonly string[] = [];
  const letGo = () => {
    up = true;
    held.forEach((control) => void connection.send("Release", control).catch(fail));
    held = [];
  };
  const { cue, cueIsNew } = connection.state;
  if (cueIsNew || !cue) {
    fail(new Error("The cue had just changed: nothing was moved. Read it, then press again."));
    return letGo;
  }

  const early = notYet(connection, cue);
  if (early) {
    fail(new Error(`${early}. Nothing was moved.`));
    return letGo;
  }

  void connection.send("Do", cue.id).then((ack) => {
    held = ack?.held ?? [];
    if (up) {
      letGo(); // it came up before the server answered
    }
  }, fail);
  return letGo;
}
