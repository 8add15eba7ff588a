import type { Schemas } from "./client";

// What the hub sends. The types are generated from the C# ones (src/HardyEmber.Web/Live/Frames.cs) by ./ember types.
export type Snapshot = Schemas["Snapshot"];
export type Frame = Schemas["Frame"];
export type Ack = Schemas["Ack"];
export type Role = Snapshot["role"];
export type SignalInfo = Snapshot["signals"][number];
export type Cue = NonNullable<Frame["cue"]>;
export type Action = NonNullable<Frame["actions"]>[number];
