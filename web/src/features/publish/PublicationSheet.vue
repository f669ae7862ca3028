<script setup lang="ts">
/** A verdict on its way to readers: proposed by a reviewer, published and withdrawn by an editor. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, dataOf, fieldMessage, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { publicationQuery, publishingRulesQuery } from '@/api/verdictQueries'
import { useSession } from '@/app/useSession'
import PageState from '@/app/PageState.vue'
import { dateTime } from '@/figures/format'
import FieldRow from '@/forms/FieldRow.vue'
import TextField from '@/forms/TextField.vue'
import DataOf from './DataOf.vue'

const props = defineProps<{ verdict: number; version: number; blocked: number; unkept: boolean }>()
const { mayWrite, mayPublish } = useSession()
const { data, error, refetch } = useQuery(computed(() => publicationQuery(props.verdict)))
const later = computed(() => (data.value?.editions.length ?? 0) > 0)
const note = ref('')
const changed = ref('')
const why = ref('')
const correction = ref(false)
const reason = ref('')
/** Null: as the bench declares it. */
const licence = ref<string | null>(null)
const { data: rules } = useQuery(publishingRulesQuery())
const LICENCES = [
  'CC BY 4.0',
  'CC BY-SA 4.0',
  'CC BY-NC 4.0',
  'CC0 1.0',
  'ODbL 1.0',
  'All rights reserved: to be read, not to be used',
]
const taking = ref(false)
const said = ref('')
const at = computed(() => ({ params: { path: { id: props.verdict } } }))

const proposing = useWrite('publication', async () =>
  dataOf(
    await api.POST('/api/v1/verdicts/{id}/proposal/', { ...at.value, body: { note: note.value } }),
  ),
)
const publishing = useWrite('publication', async () =>
  dataOf(
    await api.POST('/api/v1/verdicts/{id}/publication/', {
      ...at.value,
      body: {
        version: props.version,
        changed: changed.value,
        why: why.value,
        correction: correction.value,
        licence: licence.value,
      },
    }),
  ),
)
const withdrawing = useWrite('publication', async () =>
  dataOf(
    await api.POST('/api/v1/publications/{id}/withdrawal/', {
      params: { path: { id: data.value?.id ?? 0 } },
      body: { reason: reason.value, version: data.value?.version ?? 0 },
    }),
  ),
)
async function propose() {
  if (await proposing.send()) said.value = 'Proposed: an editor can publish it.'
}
async function publish() {
  const now = await publishing.send()
  if (!now) return
  said.value = `Edition ${now.editions[0]?.number} is published.`
  changed.value = why.value = ''
  correction.value = false
}
async function withdraw() {
  if (!(await withdrawing.send())) return
  said.value = 'Withdrawn; its address says so.'
  reason.value = ''
  taking.value = false
}
const waits = computed(() =>
  props.unkept
    ? 'What was typed is not kept yet.'
    : props.blocked
      ? `${props.blocked} to do first, see above.`
      : '',
)
</script>

<template>
  <section class="sheet" aria-labelledby="publication">
    <h2 id="publication">For readers</h2>
    <PageState :loading="!data && !error" :error="error" :retry="refetch" />
    <template v-if="data">
      <p v-if="data.withdrawn_at" class="withdrawn">
        Withdrawn {{ dateTime(data.withdrawn_at) }}: {{ data.withdrawn_reason }}
      </p>
      <p v-if="data.path">
        <a :href="data.path" target="_blank" rel="noopener">The page that readers get</a>
      </p>
      <p v-else class="soft">Not published yet: only who is logged in here reads it.</p>
      <ol v-if="later" reversed class="editions">
        <li v-for="one in data.editions" :key="one.number" :value="one.number">
          <a :href="one.path" target="_blank" rel="noopener">{{ dateTime(one.published_at) }}</a>
          by {{ one.published_by_name }}
          <strong v-if="one.correction">correction</strong>
          <span v-if="one.changed"
            >: {{ one.changed }} <em>{{ one.why }}</em></span
          >
          <DataOf :edition="one" />
        </li>
      </ol>
      <p v-if="data.proposal" role="status">
        {{ data.proposal.proposed_by_name }} proposed it {{ dateTime(data.proposal.proposed_at)
        }}<template v-if="data.proposal.note">: “{{ data.proposal.note }}”</template>
        <strong v-if="data.proposal.since_changed"> It was changed since.</strong>
      </p>
      <p v-if="waits" class="soft">{{ waits }}</p>
      <form v-if="mayWrite && !mayPublish" class="act" @submit.prevent="propose">
        <TextField v-model="note" label="A word to the editor" :maxlength="240" width="wide" />
        <el-button
          type="primary"
          native-type="submit"
          :disabled="!!waits"
          :loading="proposing.busy.value"
          >Propose it</el-button
        >
      </form>
      <form v-if="mayPublish" class="act" @submit.prevent="publish">
        <p v-if="data.second_eyes && !data.proposal" class="soft">
          This bench wants a second pair of eyes: a reviewer proposes it first.
        </p>
        <template v-if="later">
          <TextField
            v-model="changed"
            label="What changed"
            :maxlength="400"
            width="wide"
            :problem="fieldMessage(publishing.problem.value, 'changed')"
          />
          <TextField
            v-model="why"
            label="Why"
            :maxlength="400"
            width="wide"
            :problem="fieldMessage(publishing.problem.value, 'why')"
          />
          <el-checkbox v-model="correction"
            >A correction: something that was said was wrong</el-checkbox
          >
        </template>
        <FieldRow for="licence" label="Licence of the page and its data" width="wide">
          <el-select
            id="licence"
            v-model="licence"
            filterable
            allow-create
            default-first-option
            clearable
            :value-on-clear="null"
            :empty-values="[undefined, null]"
            :placeholder="rules?.licence || 'not said'"
          >
            <el-option v-for="one in LICENCES" :key="one" :value="one" :label="one" />
          </el-select>
        </FieldRow>
        <div class="row">
          <el-button
            type="primary"
            native-type="submit"
            :disabled="!!waits"
            :loading="publishing.busy.value"
            >{{ later ? 'Publish a new edition' : 'Publish it' }}</el-button
          >
          <el-button v-if="data.path && !data.withdrawn_at && !taking" text @click="taking = true"
            >Withdraw …</el-button
          >
        </div>
      </form>
      <form v-if="taking" class="act" @submit.prevent="withdraw">
        <TextField
          v-model="reason"
          label="Why it is withdrawn; readers are told"
          :maxlength="240"
          width="wide"
          :problem="fieldMessage(withdrawing.problem.value, 'reason')"
        />
        <el-button native-type="submit" :loading="withdrawing.busy.value">Withdraw it</el-button>
        <el-button text @click="taking = false">Leave it</el-button>
      </form>
      <p v-if="said" role="status">{{ said }}</p>
      <p
        v-for="(one, key) in [proposing, publishing, withdrawing].filter((w) => w.problem.value)"
        :key="key"
        class="fault"
        role="alert"
      >
        {{ sentenceOf(one.problem.value) }}
      </p>
    </template>
  </section>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
.act {
  max-width: 560px;
  margin-top: 10px;
}
.row {
  display: flex;
  gap: 8px;
  margin-top: 8px;
}
.editions {
  padding-left: 22px;
}
.withdrawn {
  padding: 4px 10px;
  border-left: 3px solid var(--caution);
  background: var(--caution-soft);
}
.fault {
  color: var(--stop);
}
</style>
