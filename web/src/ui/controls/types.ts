import type { Control } from "../../api/client";

export interface ControlProps {
  control: Control;
  /** The position in force. */
  position: string;
  disabled: boolean;
  onSet: (to: string) => void;
  onHold: (to: string) => void;
  onRelease: () => void;
  onDial: (to: number) => void;
  /** Value of a dial. */
  number: number;
}
