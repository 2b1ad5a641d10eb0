/** For clearing a form once it is kept: what somebody typed meanwhile stays. */
export const unless =
  <T>(sent: T, cleared: T) =>
  (now: T): T =>
    now === sent ? cleared : now;
