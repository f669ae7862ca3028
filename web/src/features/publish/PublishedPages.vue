<script setup lang="ts">
/** What readers get: the pages, how the bench publishes, and the pages as a folder of files. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, dataOf, fieldMessage, sentenceOf } from '@/api/client'
import type { Schemas } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { publishedPagesQuery, publishingRulesQuery } from '@/api/verdictQueries'
import PageState from '@/app/PageState.vue'
import { useSession } from '@/app/useSession'
import { dateTime } from '@/figures/format'
import TextField from '@/forms/TextField.vue'
import MergeView from '@/merging/MergeView.vue'
import { useFactForm } from '@/merging/useFactForm'

const { mayPublish } = useSession()
const page = ref(1)
const { data, error, refetch } = useQuery(computed(() => publishedPagesQuery(page.value)))
const { data: rules, refetch: again } = useQuery(publishingRulesQuery())
type Form = Required<
  Pick<Schemas['PublishingRules'], 'bench_name' | 'address' | 'licence' | 'second_eyes'>
>
const { form, base, dirty, problem, conflict, busy, saved, save, drop } = useFactForm<Form>({
  key: () => 'publishing-rules',
  stored: () =>
    rules.value && {
      values: {
        bench_name: rules.value.bench_name ?? '',
        address: rules.value.address ?? '',
        licence: rules.value.licence ?? '',
        second_eyes: rules.value.second_eyes ?? false,
      },
      version: rules.value.version ?? 1,
    },
  write: async (values, version) => {
    const now = dataOf(
      await api.PATCH('/api/v1/publishing-rules/', { body: { ...values, version } }),
    )
    await again()
    return now.version ?? version + 1
  },
})
const writing = useWrite('work', () => api.POST('/api/v1/publications/export/'))
const told = ref('')
async function write() {
  told.value = ''
  if (await writing.send())
    told.value = 'They are being written; the strip says how far it is, and where they lie.'
}
</script>

<template>
  <section class="sheet" aria-labelledby="pages">
    <h2 id="pages">Pages for readers</h2>
    <p class="soft">
      Without login, for everybody who reaches this machine:
      <a href="/read/" target="_blank" rel="noopener">the index</a>. As a folder of files they stand
      on any web server; the bench stays private.
    </p>
    <PageState :loading="!data && !error" :error="error" :retry="refetch" />
    <p v-if="data && !data.results.length">
      Nothing is published. A verdict that nothing blocks is published from its own page.
    </p>
    <table v-if="data?.results.length" class="grid wide">
      <thead>
        <tr>
          <th>Page</th>
          <th>Edition</th>
          <th>Of</th>
          <th>Stands</th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in data.results" :key="one.path">
          <td>
            <a :href="one.path" target="_blank" rel="noopener">{{ one.subject }}</a>
            <RouterLink :to="`/publish/verdict/${one.verdict}`" class="soft small">
              its verdict</RouterLink
            >
          </td>
          <td class="num">{{ one.number }}</td>
          <td class="num soft">{{ dateTime(one.published_at) }}</td>
          <td>
            <span v-if="one.withdrawn_reason">withdrawn: {{ one.withdrawn_reason }}</span>
            <span v-else-if="one.corrections"
              >{{ one.corrections }} correction{{ one.corrections === 1 ? '' : 's' }}</span
            >
            <span v-else class="soft">as first published</span>
          </td>
        </tr>
      </tbody>
    </table>
    <el-pagination
      v-if="data && data.count > 50"
      v-model:current-page="page"
      layout="prev, pager, next"
      :page-size="50"
      :total="data.count"
    />
    <template v-if="mayPublish">
      <div class="row">
        <el-button :loading="writing.busy.value" @click="write">Write them as files</el-button>
        <span v-if="told" role="status" class="small">{{ told }}</span>
        <span v-if="writing.problem.value" role="alert" class="fault">{{
          sentenceOf(writing.problem.value)
        }}</span>
      </div>
      <el-form v-if="rules" label-position="top" class="rules" @submit.prevent="save()">
        <TextField
          v-model="form.bench_name"
          label="The bench's name"
          :maxlength="80"
          :problem="fieldMessage(problem, 'bench_name')"
        />
        <TextField
          v-model="form.address"
          label="Where the pages will be found (for the feed)"
          placeholder="https://…"
          :maxlength="200"
          width="wide"
          :problem="fieldMessage(problem, 'address')"
        />
        <TextField v-model="form.licence" label="Licence" :maxlength="120" width="wide" />
        <el-checkbox v-model="form.second_eyes"
          >A second pair of eyes: who publishes must not be who proposed</el-checkbox
        >
        <div class="row">
          <el-button type="primary" native-type="submit" :disabled="!dirty" :loading="busy"
            >Keep</el-button
          >
          <span v-if="saved" role="status" class="soft small">Kept.</span>
        </div>
        <p v-if="problem" class="fault" role="alert">{{ sentenceOf(problem) }}</p>
      </el-form>
      <MergeView
        v-if="conflict"
        :base="base"
        :mine="form"
        :current="conflict"
        @settle="(values, version) => save(values as Form, version)"
        @drop="drop()"
      />
    </template>
  </section>
</template>

<style scoped>
.sheet {
  margin-top: 16px;
}
.wide {
  width: 100%;
}
.row {
  display: flex;
  gap: 10px;
  align-items: center;
  margin: 10px 0;
}
.rules {
  max-width: 560px;
}
.fault {
  color: var(--stop);
}
</style>
