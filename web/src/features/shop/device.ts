/** What a gauge, meter or tachometer sends. */
export type DeviceReading = { test: string; reading: string; unit: string; at: string; device: string }

const FORM: Record<string, RegExp> = {
  test: /^[a-z0-9-]{1,40}$/,
  value: /^(-?[0-9]+(\.[0-9]+)?|OL)$/,
  unit: /^\S{1,20}$/,
  at: /^\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\.\d+)?(Z|[+-]\d\d:\d\d)$/,
  device: /^[\w.:-]{1,40}$/,
}
const LONGEST = 300

/** Reads a line of a device, as core/shop does; nothing for one that is not of the form. */
export function readDevice(line: string): DeviceReading | undefined {
  const [first, ...words] = line.trim().split(/\s+/)
  if (first !== 'reading' || line.length > LONGEST) return
  const by: Record<string, string> = {}
  for (const w of words) {
    const [name, ...rest] = w.split('=')
    if (!(name in FORM) || name in by || !FORM[name].test(rest.join('='))) return
    by[name] = rest.join('=')
  }
  if (Object.keys(FORM).some((name) => !by[name])) return
  return { test: by.test, reading: by.value, unit: by.unit, at: by.at, device: by.device }
}

type Port = {
  open(o: { baudRate: number }): Promise<void>
  readable: ReadableStream<Uint8Array>
  close(): Promise<void>
}
type Serial = { requestPort(): Promise<Port> }
const serial = () => (navigator as Navigator & { serial?: Serial }).serial
/** The browser can hear a device at its serial port. */
export const canHear = () => !!serial()
const BAUD = 9600

/** Listens at a port that is chosen until a reading comes that is wanted, and closes it again. */
export async function hear(wanted: (r: DeviceReading) => boolean): Promise<DeviceReading | undefined> {
  const port = await serial()!.requestPort()
  await port.open({ baudRate: BAUD })
  const reader = port.readable
    .pipeThrough(new TextDecoderStream() as ReadableWritablePair<string, Uint8Array>)
    .getReader()
  let rest = ''
  try {
    for (;;) {
      const { value, done } = await reader.read()
      if (done) return
      rest += value
      const lines = rest.split('\n')
      rest = lines.pop()!.slice(-LONGEST)
      const found = lines.map(readDevice).find((r) => r && wanted(r))
      if (found) return found
    }
  } finally {
    await reader.cancel().catch(() => undefined)
    await port.close().catch(() => undefined)
  }
}
