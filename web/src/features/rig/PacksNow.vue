<script setup lang="ts">
/** How each pack stands; F, P, C and R say it of the one in hand. Runs change it by themselves. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { packsNowQuery } from '@/api/benchQueries'
import { api, dataOf, sentenceOf, type Schemas } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import Figure from '@/figures/Figure.vue'
import { dateTime } from '@/figures/format'
import { numberFault, numberOrNull } from '@/figures/readNumber'
import NumberField from '@/forms/NumberField.vue'
import { wordOf } from '@/words/words'

type State = Schemas['SaidOfPackRequest']['state']
const { mayWrite } = useSession()
const { data, error } = useQuery(packsNowQuery())
const KEYS: readonly [string, State][] = [
  ['F', 'full'],
  ['P', 'part_used'],
  ['C', 'charging'],
  ['R', 'resting'],
]
const props = defineProps<{
  /** Only packs of which somebody said something, in a few lines. */
  brief?: boolean
}>()
const packs = computed(() => {
  const all = data.value ?? []
  return props.brief ? all.filter((pack) => !pack.joined && pack.state !== 'unknown') : all
})
const tagOf = (pack: Schemas['PackNow']) =>
  pack.waits ? 'caution' : pack.state === 'unknown' ? '' : 'within'
const saying = useWrite(
  'pack',
  async ({ pack, state, used = null }: { pack: number; state: State; used?: number | null }) =>
    dataOf(
      await api.PUT('/api/v1/packs-now/{id}/', {
        params: { path: { id: pack } },
        body: { state, used_mah: used },
      }),
    ),
)
const say = (pack: Schemas['PackNow'], state: State) => {
  if (mayWrite.value && !pack.joined) void saying.send({ pack: pack.supply, state })
}
/** What was used of a part-used pack, where somebody knows it from a charger. */
const typed = ref<Record<number, string>>({})
async function sayUsed(pack: Schemas['PackNow']) {
  const text = typed.value[pack.supply] ?? ''
  // What is no number is said beside the field.
  const used = numberFault(text) ? null : numberOrNull(text)
  if (used === null) return
  if (await saying.send({ pack: pack.supply, state: 'part_used', used })) typed.value = {}
}
function onKey(event: KeyboardEvent, pack: Schemas['PackNow']) {
  if (event.ctrlKey || event.metaKey || event.altKey) return
  const found = KEYS.find(([key]) => key === event.key.toUpperCase())
  if (!found) return
  event.preventDefault()
  say(pack, found[1])
}
</script>

<template>
  <p v-if="error" role="alert" class="fault">{{ sentenceOf(error) }}</p>
  <section
    v-else-if="packs.length"
    :class="brief ? 'in-brief' : 'sheet packs'"
    aria-labelledby="packs-now"
  >
    <h2 id="packs-now" :class="{ 'visually-hidden': brief }">Packs now</h2>
    <ul v-if="brief" class="brief">
      <li v-for="pack in packs" :key="pack.supply">
        <RouterLink
          to="/rig?look=supplies"
          :aria-label="`${pack.name}: ${pack.words}`"
          @keydown="onKey($event, pack)"
          >{{ pack.name }}</RouterLink
        >
        <span class="tag" :class="tagOf(pack)">{{ pack.words }}</span>
      </li>
    </ul>
    <ul v-else>
      <li v-for="pack in packs" :key="pack.supply">
        <p class="line">
          <strong>{{ pack.name }}</strong>
          <span class="tag" :class="tagOf(pack)">{{ pack.words }}</span>
          <span v-if="pack.said_at && !pack.joined" class="soft small"
            >said {{ dateTime(pack.said_at)
            }}<template v-if="pack.runs"
              >, {{ pack.runs }} {{ pack.runs === 1 ? 'run' : 'runs' }} since</template
            ></span
          >
          <span v-if="pack.left_mah.value !== null" class="small left"
            >left
            <Figure
              estimated
              :value="Math.max(0, pack.left_mah.value)"
              :u="pack.left_mah.u"
              unit="mAh"
          /></span>
        </p>
        <!-- One stop of the tab key for each pack; a letter says how it stands. -->
        <div
          v-if="mayWrite && !pack.joined"
          role="radiogroup"
          :aria-label="`How ${pack.name} stands`"
          class="say"
          @keydown="onKey($event, pack)"
        >
          <el-radio-group
            :model-value="pack.state"
            size="small"
            :disabled="saying.busy.value"
            @update:model-value="say(pack, $event as State)"
          >
            <el-radio-button v-for="[key, state] in KEYS" :key="state" :value="state"
              >{{ wordOf('charge', state) }} <kbd>{{ key }}</kbd></el-radio-button
            >
          </el-radio-group>
        </div>
        <form
          v-if="
            mayWrite && !pack.joined && pack.state === 'part_used' && pack.used_mah.value === null
          "
          class="used"
          @submit.prevent="sayUsed(pack)"
        >
          <NumberField
            :model-value="typed[pack.supply] ?? ''"
            label="Used of it"
            unit="mAh"
            inline
            @update:model-value="typed = { ...typed, [pack.supply]: $event }"
          />
          <el-button size="small" native-type="submit">Keep</el-button>
          <span class="soft small">{{ pack.used_mah.why }}</span>
        </form>
      </li>
    </ul>
    <p v-if="saying.problem.value" role="alert" class="fault">
      {{ sentenceOf(saying.problem.value) }}
    </p>
    <p v-if="brief && mayWrite" class="soft small keys">
      On a pack in hand <kbd>F</kbd> says full, <kbd>P</kbd> part used, <kbd>C</kbd> on the charger,
      <kbd>R</kbd> resting.
    </p>
    <p v-else-if="!brief" class="soft small">
      Charge on a fire-safe place, under your eyes, as the packs' maker says; a swollen or hurt pack
      is charged no more.
    </p>
  </section>
</template>

<style scoped>
.packs {
  margin-top: 12px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  padding: 4px 0 6px;
  border-bottom: 1px solid var(--line-soft);
}
.line {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 10px;
  align-items: baseline;
  margin: 0 0 3px;
}
.used {
  display: flex;
  gap: 10px;
  align-items: center;
  margin-top: 4px;
}
.left {
  margin-left: auto;
}
/* On the Board a hint takes room only where a pack is in hand. */
.keys {
  display: none;
  margin: 2px 0 0;
}
.in-brief:focus-within .keys {
  display: block;
}
.in-brief {
  margin-top: 6px;
}
.brief {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 14px;
}
.brief li {
  border: 0;
  padding: 0;
  white-space: nowrap;
}
.brief .tag {
  margin-left: 4px;
}
kbd {
  font: inherit;
  opacity: 0.6;
}
.fault {
  color: var(--stop);
}
</style>
