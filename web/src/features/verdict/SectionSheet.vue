<script setup lang="ts">
/** A section: its prose, and in the margin what it rests on and what the data would say. */
import type { JSONContent } from '@tiptap/core'
import { computed, inject, ref } from 'vue'
import type { Schemas } from '@/api/client'
import FigureMargin from './FigureMargin.vue'
import { FIGURES, figuresIn, plainOf } from './prose'
import ProseEditor from './ProseEditor.vue'
import ProposalList from './ProposalList.vue'
import type { Rival } from './useProse'

const props = defineProps<{
  section: Schemas['VerdictSection']
  prose: JSONContent
  statements: Schemas['Statement'][]
  quotable: Schemas['Quotable'][]
  rival?: Rival
  mayWrite: boolean
}>()
const emit = defineEmits<{
  write: [prose: JSONContent]
  leave: []
  settle: [mine: boolean]
  adopt: [key: string]
  insert: [at: number]
  stand: [figure: number, word: string | null]
}>()
const figures = inject(FIGURES)
const used = computed(() =>
  figuresIn(props.prose).flatMap((pk) => {
    const found = figures?.value.get(pk)
    return found ? [found] : []
  }),
)
const theirs = computed(() =>
  props.rival && figures ? plainOf(props.rival.prose, figures.value) : '',
)
const editor = ref<InstanceType<typeof ProseEditor> | null>(null)
const chosen = ref<number | undefined>()
function insert(at: number) {
  chosen.value = undefined
  emit('insert', at)
}
defineExpose({
  insertFigure: (figure: number) => editor.value?.insertFigure(figure),
  addParagraph: (paragraph: JSONContent) => editor.value?.addParagraph(paragraph),
})
</script>

<template>
  <section class="section" :aria-label="section.title">
    <div class="text">
      <h2>{{ section.title }}</h2>
      <ProseEditor
        ref="editor"
        :prose="prose"
        :label="section.title"
        :asks="section.asks"
        :may-write="mayWrite"
        @write="emit('write', $event)"
        @leave="emit('leave')"
      />
      <div v-if="rival" class="rival" role="alert">
        <strong>{{ rival.who }} changed this section while you were writing.</strong>
        <p class="theirs">{{ theirs || 'They left it empty.' }}</p>
        <el-button size="small" type="primary" @click="emit('settle', true)">Keep mine</el-button>
        <el-button size="small" @click="emit('settle', false)">Take theirs</el-button>
      </div>
      <el-select
        v-if="mayWrite"
        v-model="chosen"
        size="small"
        filterable
        default-first-option
        class="insert"
        placeholder="insert a figure"
        :aria-label="`insert a figure into ${section.title}`"
        no-data-text="Nothing was measured that could stand here"
        @change="insert"
      >
        <el-option
          v-for="(one, at) in quotable"
          :key="at"
          :value="at"
          :label="`${one.words}: ${one.stated}`"
          :disabled="one.beyond"
        >
          <span class="words">{{ one.words }}</span> <strong class="num">{{ one.stated }}</strong>
        </el-option>
      </el-select>
    </div>
    <aside class="margin" :aria-label="`Evidence of ${section.title}`">
      <FigureMargin
        :figures="used"
        :may-write="mayWrite"
        @stand="(figure, word) => emit('stand', figure, word)"
      />
      <ProposalList
        v-if="mayWrite && statements.length"
        :statements="statements"
        @adopt="emit('adopt', $event)"
      />
    </aside>
  </section>
</template>

<style scoped>
.section {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 330px;
  gap: 26px;
  padding: 14px 0;
  border-top: 1px solid var(--line-soft);
}
h2 {
  margin: 0 0 4px;
  font-size: 15px;
  color: var(--copper);
}
.insert {
  width: 230px;
  margin-top: 4px;
}
.words {
  margin-right: 8px;
}
.margin {
  font-size: 12.5px;
}
.rival {
  margin: 6px 0;
  padding: 8px 10px;
  border-left: 3px solid var(--caution);
  background: var(--caution-soft);
}
.theirs {
  margin: 4px 0 8px;
  white-space: pre-line;
}
@media (max-width: 1000px) {
  .section {
    grid-template-columns: minmax(0, 1fr) 270px;
    gap: 16px;
  }
}
</style>
