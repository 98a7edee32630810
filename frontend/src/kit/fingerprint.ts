/** A fingerprint as it is read aloud: its first twelve signs. */
export function shortFingerprint(fingerprint: string): string {
  return fingerprint.slice(0, 12)
}
