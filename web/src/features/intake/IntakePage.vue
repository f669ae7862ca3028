<script setup lang="ts">
/** Is the parcel what it says? Taking a motor in, with its size code read while it is typed. */
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { refDebounced, useLocalStorage, watchDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { motorSearchQuery, refreshRecord } from '@/api/queries'
import PageState from '@/app/PageState.vue'
import { useInHand } from '@/app/useInHand'
import { useSession } from '@/app/useSession'
import Figure from '@/figures/Figure.vue'
import { readTyped } from '@/figures/readNumber'
import MotorMark from '@/figures/MotorMark.vue'
import { choices, wordOf } from '@/words/words'

const EMPTY = {
  kind: 'outrunner',
  maker: '',
  name: '',
  size_code: '',
  basis: '',
  kv: '',
  marks: 'A',
  obtained: 'bought',
  from: '',
  turning: 'unknown',
  note: '',
}
// The draft outlives a reload and a lost server.
const draft = useLocalStorage('spindle.intake-draft', { ...EMPTY }, { mergeDefaults: true })
const search = ref('')
const page = ref(1)
const sought = refDebounced(search, 250)
watch(sought, () => (page.value = 1))
const {
  data: found,
  isPending,
  error,
  refetch,
} = useQuery(computed(() => motorSearchQuery(sought.value, page.value)))
const motors = computed(() => found.value?.results)
const { mayWrite } = useSession()
const client = useQueryClient()
const router = useRouter()
const inHand = useInHand()
const problem = ref<unknown>(null)
const busy = ref(false)
const size = ref<Schemas['SizeReading'] | null>(null)
const sizeProblem = ref('')

watchDebounced(
  () => [draft.value.size_code, draft.value.basis, draft.value.kind] as const,
  async ([text, basis, kind]) => {
    size.value = null
    sizeProblem.value = ''
    if (!text.trim()) return
    try {
      const query = {
        text,
        basis: (basis || undefined) as Schemas['SizeBasisEnum'] | undefined,
        kind: kind as Schemas['MotorKindEnum'],
      }
      size.value = dataOf(await api.GET('/api/v1/size-code/', { params: { query } }))
    } catch (failure) {
      sizeProblem.value = sentenceOf(failure)
    }
  },
  { debounce: 250, immediate: true },
)

const typedKv = computed(() => readTyped(draft.value.kv, [50, 30_000]))
const kv = computed(() => (typedKv.value.kind === 'number' ? typedKv.value.value : null))
const kvFault = computed(() => {
  if (typedKv.value.kind === 'wrong') return typedKv.value.why
  if (kv.value === null || kv.value > 0) return ''
  return 'A number of rpm/V; leave it empty where no kV is printed.'
})
const complete = computed(
  () =>
    draft.value.maker &&
    draft.value.name &&
    size.value !== null &&
    !kvFault.value &&
    (kv.value !== null || draft.value.kind === 'brushed' || emptyKvMeant.value),
)
// A brushed can rarely has one; an outrunner without a kV label is asked about once.
const emptyKvMeant = ref(false)

const peers = ref<Schemas['Peer'][]>([])
watchDebounced(
  [size, kv],
  async () => {
    peers.value = []
    if (!size.value || !kv.value) return
    try {
      const query = {
        size_code: size.value.text,
        size_basis: size.value.basis as Schemas['SizeBasisEnum'],
        kv_rpm_per_v: kv.value,
      }
      peers.value = dataOf(await api.GET('/api/v1/peers/', { params: { query } }))
    } catch {
      // Peers are a hint; without the server there is none.
    }
  },
  { debounce: 300, immediate: true },
)

async function takeIn() {
  if (!complete.value) return
  problem.value = null
  busy.value = true
  try {
    const marks = draft.value.marks.split(/[\s,]+/).filter(Boolean)
    const motor = dataOf(
      await api.POST('/api/v1/motors/', {
        body: {
          maker: draft.value.maker,
          name: draft.value.name,
          kind: draft.value.kind as Schemas['MotorKindEnum'],
          size_code: draft.value.size_code,
          size_basis: (draft.value.basis || null) as Schemas['SizeBasisEnum'] | null,
          kv_label_rpm_per_v: kv.value,
          sample_marks: marks,
          obtained: draft.value.obtained as Schemas['ObtainedEnum'],
          obtained_from: draft.value.from,
          turning: draft.value.turning as Schemas['TurningEnum'],
          note: draft.value.note,
        },
      }),
    )
    draft.value = { ...EMPTY }
    inHand.value = motor.id
    await refreshRecord(client)
    await router.push(`/intake/${motor.id}/parcel`)
  } catch (failure) {
    problem.value = failure
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <h1>Intake</h1>
  <div class="columns">
    <form v-if="mayWrite" class="sheet" @submit.prevent="takeIn">
      <h2>A new motor</h2>
      <div class="pair">
        <div>
          <label for="kind">Kind</label>
          <select id="kind" v-model="draft.kind">
            <option v-for="one in choices('motor_kind')" :key="one.key" :value="one.key">
              {{ one.label }}
            </option>
          </select>
        </div>
        <div>
          <label for="maker">Maker</label>
          <el-input id="maker" v-model="draft.maker" maxlength="60" />
        </div>
        <div>
          <label for="name">Name</label>
          <el-input id="name" v-model="draft.name" maxlength="60" />
          <p class="field-problem">{{ fieldMessage(problem, 'name') }}</p>
        </div>
      </div>
      <div class="pair">
        <div>
          <label for="size">Size code</label>
          <el-input id="size" v-model="draft.size_code" placeholder="2207, 2105.5 or 8x20" />
        </div>
        <div>
          <label for="basis">which measures the</label>
          <select id="basis" v-model="draft.basis">
            <option value="">what it looks like</option>
            <option v-for="one in choices('size_basis')" :key="one.key" :value="one.key">
              {{ one.label }}
            </option>
          </select>
        </div>
        <div>
          <label for="kv">kV on the label <span class="unit">(rpm/V)</span></label>
          <el-input id="kv" v-model="draft.kv" inputmode="numeric" />
          <p class="field-problem">{{ kvFault || fieldMessage(problem, 'kv_label_rpm_per_v') }}</p>
        </div>
      </div>
      <p class="field-problem">{{ sizeProblem || fieldMessage(problem, 'size_code') }}</p>
      <p v-if="size" class="reading">
        Read as the {{ wordOf('size_basis', size.basis).toLowerCase() }}:
        <Figure :value="size.diameter_mm" unit="mm" /> across,
        <Figure :value="size.height_mm" unit="mm" /> high; stator volume
        <Figure :value="size.stator_volume_mm3" unit="mm³" :reason="size.absent_reason" />
        <span v-if="size.absent_reason" class="small">({{ size.absent_reason }})</span>. The kV
        label is a claim; the bench measures kV.
      </p>
      <p v-if="size?.doubt" class="doubt" role="status">{{ size.doubt }}</p>
      <p v-if="peers.length" class="small soft">
        Peers on the bench: {{ peers.map((peer) => peer.full_name).join(', ') }}.
      </p>
      <div class="pair">
        <div>
          <label for="marks">Samples, by their marks</label>
          <el-input id="marks" v-model="draft.marks" placeholder="A B C" />
        </div>
        <div>
          <label for="turning">Turning direction</label>
          <select id="turning" v-model="draft.turning">
            <option v-for="one in choices('turning')" :key="one.key" :value="one.key">
              {{ one.label }}
            </option>
          </select>
        </div>
        <div>
          <label for="obtained">How it was obtained</label>
          <select id="obtained" v-model="draft.obtained">
            <option v-for="one in choices('obtained')" :key="one.key" :value="one.key">
              {{ one.label }}
            </option>
          </select>
        </div>
        <div>
          <label for="from">From whom</label>
          <el-input id="from" v-model="draft.from" maxlength="120" />
        </div>
      </div>
      <label for="note">Note</label>
      <el-input id="note" v-model="draft.note" type="textarea" :rows="2" />
      <label v-if="size && typedKv.kind === 'empty' && draft.kind === 'outrunner'" class="meant">
        <input v-model="emptyKvMeant" type="checkbox" /> No kV is printed on it
      </label>
      <p v-if="problem" class="problem" role="alert">{{ sentenceOf(problem) }}</p>
      <p class="small soft">Price, box, claims, mass, measures and fit come next, step by step.</p>
      <el-button type="primary" native-type="submit" :disabled="!complete" :loading="busy"
        >Take it in</el-button
      >
    </form>

    <section class="sheet">
      <h2>
        On the bench <span v-if="found" class="soft">({{ found.count }})</span>
      </h2>
      <el-input v-model="search" placeholder="Find by maker, name, size or kV" aria-label="Find" />
      <PageState :loading="isPending" :error="error" :retry="refetch" />
      <p v-if="motors && !motors.length" class="soft">
        {{ sought ? 'No motor fits.' : 'Nothing yet.' }}
      </p>
      <ul v-else-if="motors" class="list">
        <li v-for="motor in motors" :key="motor.id">
          <MotorMark :motor="motor.id" />
          <RouterLink :to="`/intake/${motor.id}`" @click="inHand = motor.id">{{
            motor.full_name
          }}</RouterLink>
          <span class="soft small">
            {{ motor.samples.map((sample) => sample.mark).join(' ') }} ·
            {{ motor.claim_count }} claims
          </span>
        </li>
      </ul>
      <p v-if="found && found.count > 50" class="pages">
        <el-button size="small" :disabled="page === 1" @click="page--">Before</el-button>
        <span class="small">{{ page }} of {{ Math.ceil(found.count / 50) }}</span>
        <el-button size="small" :disabled="!found.next" @click="page++">After</el-button>
      </p>
    </section>
  </div>
</template>

<style scoped>
.columns {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 16px;
  margin-top: 14px;
  align-items: start;
}
.pair {
  display: flex;
  gap: 14px;
}
.pair > div {
  flex: 1;
  min-width: 0;
}
label {
  display: block;
  margin: 10px 0 3px;
}
.unit {
  font-size: 12px;
  color: var(--ink-soft);
}
select {
  width: 100%;
  height: 32px;
  border: 1px solid var(--el-border-color);
  border-radius: 3px;
  background: var(--el-fill-color-blank);
  padding: 0 8px;
}
.field-problem {
  color: var(--stop);
  font-size: 13px;
  margin: 3px 0 0;
}
.reading {
  background: var(--within-soft);
  border-left: 3px solid var(--within);
  padding: 5px 9px;
  margin: 6px 0 0;
  font-size: 13px;
}
.problem {
  color: var(--stop);
  margin-top: 10px;
}
.el-button {
  margin-top: 14px;
}
.doubt {
  background: var(--caution-soft);
  border-left: 3px solid var(--caution);
  padding: 5px 9px;
  margin: 6px 0 0;
  font-size: 13px;
}
.meant {
  display: flex;
  gap: 8px;
}
.pages {
  display: flex;
  gap: 10px;
  align-items: center;
  justify-content: center;
  margin: 10px 0 0;
}
.list {
  list-style: none;
  margin: 8px 0 0;
  padding: 0;
}
.list .small {
  margin-left: 8px;
}
.list li {
  padding: 5px 0;
  border-bottom: 1px solid var(--line-soft);
}
</style>
