/** Agreement in words, the number beside it. */
export function kappaWords(kappa: number | null): string {
  if (kappa === null) return 'cannot be told: all marks were alike'
  const words = kappa >= 0.8 ? 'very well' : kappa >= 0.6 ? 'well' : kappa >= 0.4 ? 'somewhat' : 'hardly'
  return `${words} (${kappa.toFixed(2)} of 1)`
}
