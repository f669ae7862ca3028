<script setup lang="ts">
/** Every run: found, filtered and ordered by the server; some are taken into a comparison. */
import { useQuery } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ApiError, sentenceOf } from '@/api/client'
import { runPageQuery, type RunsAsked } from '@/api/queries'
import PageState from '@/app/PageState.vue'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import WorkList from '@/features/work/WorkList.vue'
import ArchiveButton from './ArchiveButton.vue'
import RunArchives from './RunArchives.vue'
import RunFilters from './RunFilters.vue'
import RunTable from './RunTable.vue'

const PAGE_SIZES = [25, 50, 100]
const MOST_COMPARED = 8
const { mayWrite } = useSession()
const rebuilding = useWrite('work', () => api.POST('/api/v1/runs/rebuild/', {}))
const route = useRoute()
const router = useRouter()
const text = (name: string) => (typeof route.query[name] === 'string' ? route.query[name] : '')
const number = (name: string) => Number(text(name)) || undefined

const chosen = ref<number[]>([])
const search = ref(text('search'))
const settled = refDebounced(search, 200)
const order = ref(text('order'))
const filters = ref({
  kind: text('kind') || undefined,
  state: text('state') || undefined,
  motor: number('motor'),
  propeller: number('propeller'),
  supply: number('supply'),
  day: text('day') || undefined,
})
const page = ref(number('page') ?? 1)
const size = ref(number('size') ?? 25)
const asked = computed(
  () =>
    ({
      ...filters.value,
      search: settled.value || undefined,
      order: order.value || undefined,
      page: page.value,
      page_size: size.value,
    }) as RunsAsked,
)
const { data, isPending, isFetching, error, refetch } = useQuery(
  computed(() => runPageQuery(asked.value)),
)
/** The question without its page, as an archive is asked for. */
const found = computed(() => {
  const said = Object.entries(asked.value).filter(
    ([name, value]) => value !== undefined && !['page', 'page_size'].includes(name),
  )
  return Object.fromEntries(said.map(([name, value]) => [name, String(value)]))
})
const narrowed = computed(
  () => Boolean(settled.value) || Object.values(filters.value).some((value) => value !== undefined),
)
// A page past the end, from an old address or after runs went elsewhere, is the first one.
watch(error, (failure) => {
  if (failure instanceof ApiError && failure.status === 404 && page.value > 1) page.value = 1
})
// Another question begins on its first page; the address keeps it for the way back.
watch([filters, settled, order, size], () => (page.value = 1), { deep: true })
watch(asked, (now) => {
  const kept = Object.entries({ ...now, page_size: undefined, size: now.page_size })
  const said = kept.filter(([name, value]) => value && !(name === 'page' && value === 1))
  const query = Object.fromEntries(said.map(([name, value]) => [name, String(value)]))
  if (query.size === '25') delete query.size
  void router.replace({ path: '/runs', query })
})

function widen() {
  search.value = ''
  filters.value = {
    kind: undefined,
    state: undefined,
    motor: undefined,
    propeller: undefined,
    supply: undefined,
    day: undefined,
  }
}
</script>

<template>
  <header class="head">
    <h1>Runs</h1>
    <span v-if="data" class="soft" role="status"
      >{{ data.count }} {{ narrowed ? 'found' : 'on record' }}</span
    >
    <el-button
      class="first"
      type="primary"
      :disabled="!chosen.length || chosen.length > MOST_COMPARED"
      @click="router.push(`/compare?runs=${chosen.join(',')}`)"
      >Compare {{ chosen.length || '' }}</el-button
    >
    <el-button v-if="chosen.length" @click="chosen = []">Take none</el-button>
    <el-button v-if="mayWrite" @click="router.push('/readings')">Type readings</el-button>
    <el-button v-if="mayWrite" @click="router.push('/import')">Import a log</el-button>
    <el-button v-if="mayWrite" :loading="rebuilding.busy.value" @click="rebuilding.send()"
      >Make old figures again</el-button
    >
    <ArchiveButton v-if="mayWrite" :count="data?.count ?? 0" :chosen="chosen" :filters="found" />
  </header>
  <p v-if="rebuilding.problem.value" class="problem" role="alert">
    {{ sentenceOf(rebuilding.problem.value) }}
  </p>
  <WorkList />
  <RunArchives />
  <p v-if="chosen.length > MOST_COMPARED" class="soft" role="status">
    {{ MOST_COMPARED }} runs fit one comparison; {{ chosen.length }} are taken.
  </p>
  <RunFilters v-model="filters" v-model:search="search" :narrowed="narrowed" @widen="widen" />
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <section v-if="data" class="sheet" :aria-busy="isFetching">
    <RunTable
      v-model:chosen="chosen"
      v-model:order="order"
      :runs="data.results"
      :kind="filters.kind"
      choosing
      ordered
    >
      <template #empty>
        <template v-if="narrowed"
          >No run fits. <a href="#" @click.prevent="widen">Show all</a></template
        >
        <template v-else
          >No run yet. <RouterLink to="/bench">Make one on the bench</RouterLink>.</template
        >
      </template>
    </RunTable>
    <div v-if="data.count > PAGE_SIZES[0]!" class="pages">
      <el-pagination
        v-model:current-page="page"
        :page-size="size"
        :total="data.count"
        layout="prev, pager, next"
      />
      <el-select v-model="size" class="size" aria-label="Runs on a page">
        <el-option v-for="one in PAGE_SIZES" :key="one" :value="one" :label="`${one} on a page`" />
      </el-select>
    </div>
  </section>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
  margin-bottom: 10px;
}
.head .el-button {
  margin-left: 0;
}
.head .first {
  margin-left: auto;
}
.pages {
  display: flex;
  gap: 16px;
  align-items: center;
  margin-top: 12px;
}
.size {
  width: 140px;
}
</style>
