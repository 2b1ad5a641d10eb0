/** What of Node's own test runner is used here. */
declare module "node:test" {
  export const test: (name: string, work: () => void) => void;
}
declare module "node:assert/strict" {
  const assert: {
    ok(value: unknown, said?: string): void;
    equal(got: unknown, want: unknown, said?: string): void;
    deepEqual(got: unknown, want: unknown, said?: string): void;
  };
  export default assert;
}
