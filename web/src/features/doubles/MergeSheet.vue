<script setup lang="ts">
/** What merging two would do, before it is done: nothing of it is known otherwise afterwards. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { api, dataOf, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { movesWords, THINGS, type Two } from './doubles'

const props = defineProps<{ two: Two }>()
const emit = defineEmits<{ merged: [done: Schemas['Merger']]; turn: []; leave: [] }>()

const looked = useQuery({
  queryKey: ['doubles', 'look', props.two.thing, props.two.stays, props.two.gone],
  queryFn: async () => {
    const { thing, stays, gone } = props.two
    return dataOf(await api.POST('/api/v1/doubles/look/', { body: { thing, stays, gone } }))
  },
  retry: false,
  gcTime: 0,
})
const would = computed(() => looked.data.value)
const merging = useWrite('double', async (body: Schemas['MergeRequest']) =>
  dataOf(await api.POST('/api/v1/doubles/', { body })),
)
async function merge() {
  if (!would.value) return
  const { thing, stays, gone } = props.two
  const { stays_version, gone_version } = would.value
  const done = await merging.send({ thing, stays, gone, stays_version, gone_version })
  if (done) emit('merged', done)
}
const refused = computed(() => looked.error.value ?? merging.problem.value)
</script>

<template>
  <section class="sheet" aria-labelledby="merge">
    <h2 id="merge">{{ THINGS[two.thing] }}: two become one</h2>
    <p v-if="looked.isFetching.value" class="soft" role="status">Looking at what hangs on it…</p>
    <p v-if="refused" class="fault" role="alert">{{ sentenceOf(refused) }}</p>
    <dl v-if="would" class="facts">
      <dt>stays</dt>
      <dd>
        <strong>{{ would.stays_name }}</strong>
      </dd>
      <dt>becomes it</dt>
      <dd>{{ would.gone_name }}</dd>
      <dt>moves</dt>
      <dd>{{ movesWords(would.moved) }}</dd>
      <template v-if="would.renamed.length">
        <dt>other marks</dt>
        <dd>
          sample
          {{ would.renamed.map((one) => `${one.before} becomes ${one.after}`).join(', ') }}: write
          it on them
        </dd>
      </template>
      <template v-if="would.filled.length">
        <dt>takes over</dt>
        <dd>{{ would.filled.join(' · ') }}</dd>
      </template>
      <template v-if="would.differs.length">
        <dt>differs</dt>
        <dd v-for="one in would.differs" :key="one.what" class="differs">
          {{ one.what }}: {{ one.stays }} stands, {{ one.gone }} is left to the history
        </dd>
      </template>
      <template v-if="would.set_apart.length">
        <dt>claims that differ</dt>
        <dd>both are kept, this under its old name: {{ would.set_apart.join('; ') }}</dd>
      </template>
      <template v-if="would.dropped.length">
        <dt>claims that agree</dt>
        <dd>said once from now: {{ would.dropped.join('; ') }}</dd>
      </template>
    </dl>
    <div class="ways">
      <el-popconfirm
        title="They cannot be taken apart again."
        confirm-button-text="Merge them"
        cancel-button-text="Leave them"
        :width="240"
        @confirm="merge"
      >
        <template #reference>
          <el-button type="primary" :disabled="!would" :loading="merging.busy.value"
            >Merge them …</el-button
          >
        </template>
      </el-popconfirm>
      <el-button @click="emit('turn')">Turn them: the other stays</el-button>
      <el-button text @click="emit('leave')">Leave them</el-button>
    </div>
  </section>
</template>

<style scoped>
.sheet {
  margin-top: 14px;
}
.facts {
  display: grid;
  grid-template-columns: max-content minmax(0, 1fr);
  gap: 4px 16px;
  margin: 8px 0 12px;
}
.facts dd {
  margin: 0;
  overflow-wrap: anywhere;
}
.facts .differs {
  grid-column: 2;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
</style>
