/** A time of day in the shop's zone: 9:46, or 9:46:20 when seconds matter. */
export function clockOf(moment: string | number, zone: string, withSeconds = false): string {
  return new Date(moment).toLocaleTimeString('en-GB', {
    timeZone: zone,
    hour: 'numeric',
    minute: '2-digit',
    ...(withSeconds ? { second: '2-digit' } : {}),
  })
}
