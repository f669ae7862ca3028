<script setup lang="ts">
/** What can I honestly say? Prose with figures in it, its evidence in the margin. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { sentenceOf } from '@/api/client'
import { useLast } from '@/api/useLast'
import { proposalsQuery, quotableQuery, verdictQuery } from '@/api/verdictQueries'
import PageState from '@/app/PageState.vue'
import { useSession } from '@/app/useSession'
import PublicationSheet from '@/features/publish/PublicationSheet.vue'
import DisclosureSheet from './DisclosureSheet.vue'
import ObstacleList from './ObstacleList.vue'
import PartsSheet from './PartsSheet.vue'
import SectionSheet from './SectionSheet.vue'
import SentenceField from './SentenceField.vue'
import { useProse } from './useProse'
import { useQuoting } from './useQuoting'
import VerdictHead from './VerdictHead.vue'

const route = useRoute()
const { mayWrite } = useSession()
const id = computed(() => Number(route.params.id))
const { data: verdict, error, refetch } = useQuery(computed(() => verdictQuery(id.value)))
const against = ref<number | null>(null)
const { data: said, error: saidError } = useQuery(
  computed(() => ({ ...proposalsQuery(id.value, against.value), enabled: mayWrite.value })),
)
const proposals = useLast(said)
const { data: quotable } = useQuery(
  computed(() => ({ ...quotableQuery(id.value, against.value), enabled: mayWrite.value })),
)
const { proseOf, write, flush, settle, take, rivals, busy, fault, kept, unkept } = useProse(
  id,
  verdict,
)
const { adopt, figures, insert, ordering, refused, stand } = useQuoting(id, verdict)

const sections = ref<Record<string, InstanceType<typeof SectionSheet> | null>>({})
const held = (key: string) => (element: unknown) => {
  sections.value[key] = element as InstanceType<typeof SectionSheet> | null
}
const statementsOf = (key: string) =>
  (proposals.value?.statements ?? []).filter((one) => one.section === key)

async function adoptInto(section: string, key: string) {
  const paragraph = await adopt(key, proposals.value?.against ?? null)
  if (paragraph) sections.value[section]?.addParagraph(paragraph)
}
async function insertInto(section: string, at: number) {
  const one = quotable.value?.[at]
  const figure = one && (await insert(one.quote))
  if (figure !== undefined) sections.value[section]?.insertFigure(figure)
}
async function standByOrder() {
  await flush()
  const answer = await ordering.send()
  if (answer) take(answer)
}
const state = computed(() => {
  if (fault.value) return `Not kept: ${fault.value}`
  if (busy.value) return 'Keeping …'
  if (unkept.value) return 'Not kept yet.'
  return kept.value ? 'Kept.' : ''
})
</script>

<template>
  <PageState :loading="!verdict && !error" :error="error" :retry="refetch" />
  <article v-if="verdict" class="verdict">
    <VerdictHead :verdict="verdict" :figures="figures" />
    <div class="top">
      <SentenceField
        :verdict="verdict"
        :proposed="proposals?.sentences ?? []"
        :may-write="mayWrite"
        @kept="take"
      />
      <ObstacleList
        :obstacles="verdict.obstacles"
        :may-write="mayWrite"
        :busy="ordering.busy.value"
        @stand-by-order="standByOrder"
      />
    </div>
    <div v-if="mayWrite && verdict.motor" class="held">
      <label for="rival">Held against</label>
      <el-select
        id="rival"
        :model-value="proposals?.against ?? undefined"
        size="small"
        filterable
        default-first-option
        placeholder="nobody was run under its loads"
        :disabled="!proposals?.rivals.length"
        @update:model-value="against = $event"
      >
        <el-option
          v-for="one in proposals?.rivals"
          :key="one.id"
          :value="one.id"
          :label="one.full_name"
        />
      </el-select>
      <span class="keeping soft small" role="status">{{ state }}</span>
      <el-button v-if="fault" size="small" @click="flush()">Keep now</el-button>
    </div>
    <p v-else-if="state" class="soft small" role="status">{{ state }}</p>
    <p v-if="refused" class="fault" role="alert">{{ sentenceOf(refused) }}</p>
    <p v-if="saidError" class="fault" role="alert">
      What the data would say could not be read: {{ sentenceOf(saidError) }}
    </p>
    <SectionSheet
      v-for="section in verdict.sections"
      :key="`${verdict.id}/${section.key}`"
      :ref="held(section.key)"
      :section="section"
      :prose="proseOf(section.key)"
      :statements="statementsOf(section.key)"
      :quotable="quotable ?? []"
      :rival="rivals[section.key]"
      :may-write="mayWrite"
      @write="write(section.key, $event)"
      @leave="flush()"
      @settle="settle(section.key, $event)"
      @adopt="adoptInto(section.key, $event)"
      @insert="insertInto(section.key, $event)"
      @stand="stand"
    />
    <PartsSheet :verdict="verdict" :may-write="mayWrite" @kept="take" />
    <DisclosureSheet :verdict="verdict" :may-write="mayWrite" @kept="take" />
    <PublicationSheet
      :verdict="verdict.id"
      :version="verdict.version"
      :blocked="verdict.obstacles.filter((one) => one.blocks).length"
      :unkept="unkept"
    />
  </article>
</template>

<style scoped>
.verdict {
  max-width: 1120px;
}
.top {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 330px;
  gap: 26px;
  margin-bottom: 12px;
}
.held {
  display: flex;
  gap: 8px;
  align-items: center;
  margin-bottom: 8px;
  font-size: 13px;
}
.held .el-select {
  width: 280px;
}
.fault {
  color: var(--stop);
}
@media (max-width: 1000px) {
  .top {
    grid-template-columns: minmax(0, 1fr) 270px;
    gap: 16px;
  }
}
</style>
