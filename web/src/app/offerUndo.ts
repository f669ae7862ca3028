/** After something was taken off the record: what it was, and a way back while it is shown. */
import { ElButton, ElNotification } from 'element-plus'
import { h, ref } from 'vue'
import { sentenceOf } from '@/api/client'

const SHOWN_MS = 12_000

/** `undo` puts it back; where that fails, the reason takes the place of the button. */
export function offerUndo(what: string, undo: () => Promise<unknown>): void {
  const said = ref('')
  const busy = ref(false)
  const shown = ElNotification({
    title: `${what} taken off`,
    duration: SHOWN_MS,
    position: 'bottom-right',
    message: () =>
      said.value
        ? h('span', { role: 'alert' }, said.value)
        : h(
            ElButton,
            { size: 'small', loading: busy.value, onClick: () => void back() },
            () => 'Put it back',
          ),
  })

  async function back() {
    busy.value = true
    try {
      await undo()
      shown.close()
    } catch (failure) {
      said.value = sentenceOf(failure)
    }
    busy.value = false
  }
}
