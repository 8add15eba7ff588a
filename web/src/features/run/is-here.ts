import type { Control } from "../../api/client";
import type { RunConnection } from "../../api/run-connection";

/** Whether a control is shown where this run is: in the air, on the ground, or of that only on a field or aboard a ship. */
export function isHere(control: Control, connection: RunConnection): boolean {
  if (connection.snapshot?.header.start === "air") {
    return !control.only || control.only === "air";
  }

  const base = connection.value("place.ship") > 0 ? "ship" : "field";
  return !control.only || control.only === "ground" || control.only === base;
}
