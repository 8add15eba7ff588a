import type { Act } from "../../api/live";
import type { RunConnection } from "../../api/run-connection";

/**
 * Begins what the cue asks for and returns what to call when the finger or key comes up. A cue that came under the finger
 * is not done: a press meant for the oxygen must not put the fuel in.
 */
export function pressCue(connection: RunConnection, act: Act, fail: (error: Error) => void): () => void {
  let up = false;
  let held: string | null = null;
  const letGo = () => {
    up = true;
    if (held) {
      void connection.send("Release", held).catch(fail);
      held = null;
    }
  };
  if (connection.state.cueIsNew) {
    fail(new Error("The cue had just changed: nothing was moved. Read it, then press again."));
    return letGo;
  }

  void doAct(connection, act).then((target) => {
    held = target;
    if (up) {
      letGo(); // it came up before the server answered
    }
  }, fail);
  return letGo;
}

/** Does what a cue asks for. Returns the control that is now held, if the act is a hold. */
async function doAct(connection: RunConnection, act: Act): Promise<string | null> {
  const { target = "", to } = act;
  switch (act.kind) {
    case "look":
      await connection.send("Look", target);
      return null;
    case "hold":
      await connection.send("Hold", target, to);
      return target;
    case "set":
      if (act.circle) {
        const positions = connection.info(target)?.positions ?? [];
        await connection.send("Set", target, positions[(connection.value(target) + 1) % positions.length]);
      } else if (act.number !== undefined) {
        await connection.send("Dial", target, act.number);
      } else {
        await connection.send("Set", target, to);
      }

      return null;
    default:
      return null;
  }
}
