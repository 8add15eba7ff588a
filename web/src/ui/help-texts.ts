/** How to read each screen, in five sentences. */
export const helpTexts: Record<string, readonly string[]> = {
  sortie: [
    "On top stands what you left unfinished, what you flew last, and the sorties you keep.",
    "Each aircraft shows how it starts and its chain: every link is as wide as it takes by the book.",
    "Place, weather and load are yours to change; a wrong number is told at its field, with the range.",
    "At every choice of the school stands what another answer would cost today, flown ahead by the simulator.",
    "On the right: how much help you want, and what today makes of the start you have set up.",
  ],
  logins: [
    "Each line is a browser that gave this server’s token: where it came from and since when it is in.",
    "A login ends by itself after thirty days.",
    "End a login that you do not know: its open runs stand still, and what it held springs back.",
    "Then start the server with another token: that ends every login at once.",
    "Log out here when this machine is not yours alone.",
  ],
  start: [
    "The chain on top is the map: energy is handed from link to link, the line between two is as wide as what is handed, and it ends where nothing is.",
    "On the left is the cue: what to do now, why, and what comes next with its seconds; a tick says that it fits into the wait that runs.",
    "In the middle are the controls and readings of the open link; a press on any link opens that one.",
    "On the right are traces and lamps; press a lamp to ask why it burns, or put the pointer on anything and press w.",
    "Below is the tape: everything you did; pick a moment on it to fly on from there.",
  ],
  relight: [
    "The plot is height over airspeed: you are the dot, the line behind it is the way you came, the dots ahead the way you go.",
    "Inside the green area fuel now brings the core to idle; each amber line is the last chance of one method: lower is too late.",
    "Below the red line it is too late: leave.",
    "On the left stands what each method would cost from here, flown ahead, and whether you reach a place to land.",
    "Below the plot are the few controls that matter; a fire brings its own.",
  ],
  debrief: [
    "The sentence on top is the verdict; each finding below says what was, what it led to, and what would have been better.",
    "Press a finding, a step or a trace: that moment is picked in all of them.",
    "From a picked moment you can fly on: the run stays as it was, a fork begins there.",
    "Where the time went: each link of the chain as wide as it held the start back, over a start by the book.",
    "Export gives the run as a file that any other of these programs replays to the last bit.",
  ],
  style: [
    "Every primitive of the application stands here in every state, once in each theme.",
    "Tab goes from one to the next, arrows work within one, Escape closes what opened.",
    "Heather is focus, selection and the first act of a screen; it never says how a machine is.",
    "Red, amber, green and blue say how a machine is, always with a word and a shape.",
    "Whoever adds a primitive adds it here: the tests look at this page.",
  ],
  logbook: [
    "Every run of everybody, the newest first; more come as you scroll.",
    "Choose callsign, type, beginning or verdict to see only those.",
    "The small bars say where the time of a start went: one cell a link of the chain, all to one scale.",
    "Debrief opens the judgement; again sets the same situation up; go on flies what was not ended.",
    "Import reads a run file and judges it anew.",
  ],
};
