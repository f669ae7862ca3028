<script setup lang="ts">
/** One section's prose: paragraphs, points, and figures that stand in it by reference. */
import { EditorContent, useEditor, type JSONContent } from '@tiptap/vue-3'
import { onBeforeUnmount, watch } from 'vue'
import { begin, extensions } from './prose'

const props = defineProps<{
  prose: JSONContent
  label: string
  asks: string
  mayWrite: boolean
}>()
const emit = defineEmits<{ write: [prose: JSONContent]; leave: [] }>()
let last = JSON.stringify(props.prose)
const editor = useEditor({
  content: begin(props.prose),
  editable: props.mayWrite,
  injectCSS: false,
  extensions: extensions(props.asks),
  editorProps: {
    attributes: {
      'aria-label': props.label,
      role: 'textbox',
      'aria-multiline': 'true',
      ...(props.mayWrite ? {} : { 'aria-readonly': 'true' }),
    },
  },
  onUpdate: ({ editor: now }) => {
    const prose = now.getJSON()
    last = JSON.stringify(prose)
    emit('write', prose)
  },
  onBlur: () => emit('leave'),
})
watch(
  () => [props.prose, props.mayWrite] as const,
  ([prose, mayWrite]) => {
    const text = JSON.stringify(prose)
    if (text !== last) {
      last = text
      editor.value?.commands.setContent(begin(prose), { emitUpdate: false })
    }
    editor.value?.setEditable(mayWrite, false)
  },
)
onBeforeUnmount(() => editor.value?.destroy())

/** Put a figure where the cursor stands. */
function insertFigure(figure: number) {
  editor.value
    ?.chain()
    .focus()
    .insertContent([{ type: 'figure', attrs: { figure } }])
    .run()
}
/** Put a whole sentence at the end, as a paragraph of its own; undo takes it back. */
function addParagraph(paragraph: JSONContent) {
  const now = editor.value
  if (!now) return
  if (now.isEmpty) now.chain().setContent([paragraph], { emitUpdate: true }).focus('end').run()
  else now.chain().insertContentAt(now.state.doc.content.size, paragraph).focus('end').run()
}
defineExpose({ insertFigure, addParagraph, focus: () => editor.value?.commands.focus() })
</script>

<template>
  <div class="editor" :class="{ 'read-only': !mayWrite }">
    <div v-if="mayWrite && editor" class="marks" role="group" :aria-label="`Form of ${label}`">
      <button
        type="button"
        :aria-pressed="editor.isActive('bold')"
        aria-label="Strong"
        @mousedown.prevent
        @click="editor.chain().focus().toggleBold().run()"
      >
        <strong>B</strong>
      </button>
      <button
        type="button"
        :aria-pressed="editor.isActive('italic')"
        aria-label="Slanted"
        @mousedown.prevent
        @click="editor.chain().focus().toggleItalic().run()"
      >
        <em>I</em>
      </button>
      <button
        type="button"
        :aria-pressed="editor.isActive('bulletList')"
        aria-label="Points"
        @mousedown.prevent
        @click="editor.chain().focus().toggleBulletList().run()"
      >
        •
      </button>
    </div>
    <EditorContent :editor="editor" class="prose" />
  </div>
</template>

<style scoped>
.editor {
  position: relative;
}
.marks {
  position: absolute;
  top: -26px;
  right: 0;
  display: flex;
  gap: 2px;
  opacity: 0;
}
.editor:focus-within .marks,
.editor:hover .marks {
  opacity: 1;
}
.marks button {
  min-width: 26px;
  height: 24px;
  border: 1px solid var(--line);
  border-radius: 3px;
  background: var(--sheet);
  color: var(--ink);
  font: inherit;
  font-size: 13px;
  cursor: pointer;
}
.marks button[aria-pressed='true'] {
  background: var(--copper-soft);
  border-color: var(--copper);
}
.prose :deep(.ProseMirror) {
  min-height: 34px;
  padding: 4px 8px;
  border-left: 2px solid var(--line-soft);
  font-size: 15px;
  line-height: 1.65;
  white-space: pre-wrap;
  overflow-wrap: break-word;
}
.prose :deep(.ProseMirror:focus) {
  outline: none;
  border-left-color: var(--copper);
  background: var(--field);
}
.prose :deep(.ProseMirror p) {
  margin: 0 0 6px;
}
.prose :deep(.ProseMirror ul) {
  margin: 0 0 6px;
  padding-left: 22px;
}
.prose :deep(p.is-editor-empty:first-child::before) {
  content: attr(data-placeholder);
  float: left;
  height: 0;
  color: var(--ink-soft);
  font-style: italic;
  pointer-events: none;
}
</style>
