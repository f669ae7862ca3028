<script setup lang="ts">
/** What can I honestly say? Prose with figures in it, its evidence in the margin. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, provide, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, dataOf, sentenceOf } from '@/api/client'
import type { Schemas } from '@/api/client'
import { useLast } from '@/api/useLast'
import { proposalsQuery, quotableQuery, verdictQuery } from '@/api/verdictQueries'
import { useWrite } from '@/api/useWrite'
import PageState from '@/app/PageState.vue'
import { useSession } from '@/app/useSession'
import { dateTime } from '@/figures/format'
import PublicationSheet from '@/features/publish/PublicationSheet.vue'
import DisclosureSheet from './DisclosureSheet.vue'
import ObstacleList from './ObstacleList.vue'
import { FIGURES } from './prose'
import PartsSheet from './PartsSheet.vue'
import SectionSheet from './SectionSheet.vue'
import SentenceField from './SentenceField.vue'
import { useProse } from './useProse'

const route = useRoute()
const client = useQueryClient()
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
/** Figures that were taken a moment ago, before the verdict is read anew. */
const fresh = ref(new Map<number, Schemas['VerdictFigure']>())
const figures = computed(
  () =>
    new Map([
      ...fresh.value,
      ...(verdict.value?.figures ?? []).map((one) => [one.id, one] as const),
    ]),
)
provide(FIGURES, figures)

const sections = ref<Record<string, InstanceType<typeof SectionSheet> | null>>({})
const held = (key: string) => (element: unknown) => {
  sections.value[key] = element as InstanceType<typeof SectionSheet> | null
}
const statementsOf = (key: string) =>
  (proposals.value?.statements ?? []).filter((one) => one.section === key)

const adopting = useWrite('verdict', async (key: string) =>
  dataOf(
    await api.POST('/api/v1/verdicts/{id}/adopt/', {
      params: { path: { id: id.value } },
      body: { key, against: proposals.value?.against ?? null },
    }),
  ),
)
async function adopt(section: string, key: string) {
  const answer = await adopting.send(key)
  if (!answer) return
  for (const one of answer.figures) fresh.value.set(one.id, one)
  sections.value[section]?.addParagraph(answer.paragraph as object)
}
const inserting = useWrite('verdict', async (quote: Schemas['Quote']) =>
  dataOf(
    await api.POST('/api/v1/verdicts/{id}/figures/', {
      params: { path: { id: id.value } },
      body: quote,
    }),
  ),
)
async function insert(section: string, at: number) {
  const one = quotable.value?.[at]
  const taken = one && (await inserting.send(one.quote))
  if (!taken) return
  fresh.value.set(taken.id, taken)
  sections.value[section]?.insertFigure(taken.id)
}
const standing = useWrite('verdict', async (asked: { figure: number; word: string | null }) =>
  dataOf(
    await api.PATCH('/api/v1/verdicts/{id}/figures/{figure_pk}/', {
      params: { path: { id: id.value, figure_pk: asked.figure } },
      body: asked.word === null ? {} : { word: asked.word },
    }),
  ),
)
async function stand(figure: number, word: string | null) {
  if (await standing.send({ figure, word }))
    await client.invalidateQueries({ queryKey: ['verdict', id.value] })
}
/** Who stands where has changed; the prose was read again. */
const ordering = useWrite('verdict', async () =>
  dataOf(
    await api.PATCH('/api/v1/verdicts/{id}/', {
      params: { path: { id: id.value } },
      body: { version: verdict.value?.version, order_seen: true },
    }),
  ),
)
async function standByOrder() {
  await flush()
  const answer = await ordering.send()
  if (answer) take(answer)
}
const refused = computed(
  () =>
    adopting.problem.value ??
    inserting.problem.value ??
    standing.problem.value ??
    ordering.problem.value,
)
const state = computed(() => {
  if (fault.value) return `Not kept: ${fault.value}`
  if (busy.value) return 'Keeping …'
  if (unkept.value) return 'Not kept yet.'
  return kept.value ? 'Kept.' : ''
})
const stale = computed(
  () => [...figures.value.values()].filter((one) => one.stale && !one.word).length,
)
const last = computed(() => {
  const seen = [...figures.value.values()].map((one) => one.seen_at).sort()
  return seen.at(-1)
})
</script>

<template>
  <PageState :loading="!verdict && !error" :error="error" :retry="refetch" />
  <article v-if="verdict" class="verdict">
    <header class="head">
      <p class="kicker soft">
        <RouterLink to="/publish">Verdicts</RouterLink> ·
        <RouterLink v-if="verdict.motor" :to="`/motors/${verdict.motor}`">motor file</RouterLink>
        <RouterLink v-else-if="verdict.ranking" :to="{ path: '/rank', query: verdict.asked }"
          >the ranking</RouterLink
        >
        <RouterLink v-else :to="`/compare?saved=${verdict.comparison}`">the comparison</RouterLink>
        · <RouterLink :to="`/publish/verdict/${verdict.id}/notes`">speaking notes</RouterLink>
        ·
        <a :href="`/api/v1/verdicts/${verdict.id}/draft/`" target="_blank"
          >the page as it would be</a
        >
      </p>
      <h1>{{ verdict.subject }}</h1>
      <p class="grade">
        {{ verdict.grade.line }}
        <span v-if="verdict.grade.missing.length" class="soft"
          >It would rise with {{ verdict.grade.missing.join('; ') }}.</span
        >
      </p>
      <p v-if="stale" class="stale" role="status">
        {{ stale }} figure{{ stale === 1 ? ' has' : 's have' }} moved since
        {{ last ? dateTime(last) : 'somebody stood by it' }}; look at the margin.
      </p>
    </header>
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
      @adopt="adopt(section.key, $event)"
      @insert="insert(section.key, $event)"
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
.kicker {
  margin: 0 0 2px;
  font-size: 12.5px;
}
h1 {
  margin: 0 0 4px;
}
.grade {
  margin: 0 0 8px;
}
.stale {
  margin: 0 0 8px;
  padding: 4px 10px;
  border-left: 3px solid var(--caution);
  background: var(--caution-soft);
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
