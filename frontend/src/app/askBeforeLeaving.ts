import type { Ref } from 'vue'
import { onBeforeRouteLeave } from 'vue-router'

/** Ask before a page is left whose draft differs from what the server has; the draft itself waits in the browser. */
export function askBeforeLeaving(isChanged: Readonly<Ref<boolean>>): void {
  onBeforeRouteLeave(
    () =>
      !isChanged.value ||
      window.confirm('What you changed here is not saved. It waits in this browser. Leave all the same?'),
  )
}
