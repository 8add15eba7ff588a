import type { Act } from "../../api/live";
import type { RunConnection } from "../../api/run-connection";

/** Does what a cue asks for. Returns the control that is now held, if the act is a hold. */
export async function doAct(connection: RunConnection, act: Act): Promise<string | null> {
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
