// Replaces core/message/may-hold.ts, which only the check needs.
export const MAY_HOLD = { structured: 0, details: 0 };
export const whatMayBeIn = (): number => 0;
