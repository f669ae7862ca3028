/**
 * Element Plus's select, whose list is made when it is opened and gone when it is shut. A page has
 * a dozen of them, and making the lists of all took a quarter of the time in which it comes.
 *
 * Until then it finds the word for what is chosen among options that stand in it directly. One whose
 * options stand in groups says `persistent`.
 */
import { ElSelect } from 'element-plus'

const { props } = ElSelect as unknown as { props: Record<string, object> }

export default {
  ...(ElSelect as object),
  props: { ...props, persistent: { type: Boolean, default: false } },
} as unknown as typeof ElSelect
