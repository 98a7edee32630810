import type { Schemas } from '@/api/client'

export const ROLE_WORDS: Record<Schemas['RoleEnum'], string> = {
  owner: 'Owner: everything',
  tester: 'Tester: makes trials, keeps the key',
  judge: 'Judge: grades, sees codes only',
}
