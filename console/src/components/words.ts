/** How the console writes times and sizes. */
export function ago(instant?: string | null, now = Date.now()): string {
  if (!instant) return 'never'
  const minutes = Math.floor((now - Date.parse(instant)) / 60000)
  if (minutes < 1) return 'just now'
  if (minutes < 60) return `${minutes} min ago`
  return minutes < 1440
    ? `${Math.floor(minutes / 60)} h ago`
    : `${Math.floor(minutes / 1440)} d ago`
}

/** The time of day at a place, with seconds. */
export function clock(instant?: string | null, zone?: string): string {
  if (!instant) return ''
  return new Intl.DateTimeFormat('en-GB', {
    hour: '2-digit',
    minute: '2-digit',
    second: '2-digit',
    timeZone: zone,
  }).format(new Date(instant))
}

export function date(instant?: string | null): string {
  if (!instant) return ''
  return new Intl.DateTimeFormat('en-GB', {
    day: 'numeric',
    month: 'short',
    year: 'numeric',
    hour: '2-digit',
    minute: '2-digit',
    timeZoneName: 'short',
  }).format(new Date(instant))
}

export function minutes(seconds: number): string {
  return seconds < 90 ? `${Math.round(seconds)} s` : `${Math.round(seconds / 60)} min`
}

export function megabytes(bytes: number): string {
  return bytes < 100_000 ? `${(bytes / 1e3).toFixed(1)} kB` : `${(bytes / 1e6).toFixed(1)} MB`
}

export function rate(bytesPerSecond: number): string {
  return bytesPerSecond < 1e6
    ? `${Math.round(bytesPerSecond / 1e3)} kB/s`
    : `${megabytes(bytesPerSecond)}/s`
}

export function count(number: number, one: string, many: string): string {
  return `${number} ${number === 1 ? one : many}`
}

/** The colour class and the shape of a state: colour never speaks alone. */
export function looks(state: string): { tone: string; shape: string } {
  switch (state) {
    case 'settled':
    case 'there':
    case 'done':
    case 'proven':
    case 'approved':
    case 'finished':
      return { tone: 'settled', shape: '●' }
    case 'stuck':
    case 'failed':
    case 'stop':
    case 'silent':
      return { tone: 'stop', shape: '■' }
    case 'returned':
    case 'behind':
    case 'caution':
    case 'held':
    case 'staged':
    case 'at the gate':
    case 'to be judged':
    case 'must-stay':
    case 'stale':
      return { tone: 'caution', shape: '▲' }
    case 'preparing':
    case 'changing':
    case 'proving':
    case 'soaking':
    case 'looking':
    case 'acting':
    case 'coming':
    case 'arrived':
    case 'under-way':
    case 'ready':
      return { tone: 'work', shape: '◆' }
    default:
      return { tone: 'quiet', shape: '○' }
  }
}
