/** A number from 0 to 1 that is always the same for the same place: dirt lies where it lay. */
export function scatter(i: number, salt = 0): number {
  const x = Math.sin(i * 12.9898 + salt * 78.233) * 43758.5453
  return x - Math.floor(x)
}

/** The numbers from 0 to n − 1. */
export const upTo = (n: number) => Array.from({ length: n }, (_, i) => i)
