import type { Schemas } from '@/api/client'

export type StageState = Schemas['StageStateEnum']

export interface Stage {
  id: string
  name: string
  /** A stage that Nublet does not keep yet is done by hand, and has no page. */
  page: boolean
}

/** The stages of a trial in working order. */
export const STAGES = [
  { id: 'question', name: 'Question', page: true },
  { id: 'candidates', name: 'Candidates', page: true },
  { id: 'build-ups', name: 'Build-ups', page: true },
  { id: 'design', name: 'Design', page: true },
  { id: 'prepare', name: 'Prepare', page: true },
  { id: 'coat-and-cure', name: 'Coat and cure', page: true },
  { id: 'expose', name: 'Expose', page: true },
  { id: 'read', name: 'Read', page: true },
  { id: 'evidence', name: 'Evidence', page: true },
  { id: 'ranking', name: 'Ranking', page: true },
  { id: 'report', name: 'Report', page: false },
] as const satisfies readonly Stage[]

export const STATE_WORDS: Record<StageState, string> = {
  empty: 'not begun',
  under_way: 'under way',
  done: 'done',
  attention: 'needs attention',
}
