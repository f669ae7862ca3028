<script setup lang="ts">
/** What can be bolted to it? Screws through the arm, leads to the ESC, every propeller at once. */
import { keepPreviousData, useQuery } from '@tanstack/vue-query'
import { useLocalStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import { type Schemas, sentenceOf } from '@/api/client'
import { motorFitQuery } from '@/api/queries'
import PageState from '@/app/PageState.vue'
import Figure from '@/figures/Figure.vue'
import { propPicture, screwPicture } from './fitDrawing'
import FitDrawing from './FitDrawing.vue'
import NumberField from '@/forms/NumberField.vue'
import { optional } from './typed'
import { TAGS } from './words'

const props = defineProps<{ file: Schemas['MotorFile']; sample: number }>()
// What somebody builds with is a matter of the builder, not of the motor: kept here, not on record.
const asked = useLocalStorage('spindle.fit', { arm: '', screw: '8', washer: '', leads: '' })
const number = (text: string) => optional(text) ?? undefined
const query = useQuery(
  computed(() => ({
    ...motorFitQuery(props.file.motor.id, {
      sample: props.sample || undefined,
      arm_thickness_mm: number(asked.value.arm),
      screw_length_mm: number(asked.value.screw),
      washer_mm: number(asked.value.washer),
      lead_needed_mm: number(asked.value.leads),
    }),
    placeholderData: keepPreviousData,
  })),
)
const fit = computed(() => query.data.value)
const screwAt = ref(0)
const screw = computed(
  () => fit.value?.screws[Math.min(screwAt.value, fit.value.screws.length - 1)],
)
const picture = computed(() => {
  const f = fit.value
  if (!f || !screw.value || f.thread_depth_mm === null || f.clearance_mm === null) return null
  return screwPicture({
    length: screw.value.length_mm,
    arm: f.arm_thickness_mm,
    washer: number(asked.value.washer) ?? 0,
    depth: f.thread_depth_mm,
    clearance: f.clearance_mm,
    // A screw that nobody measured is drawn as the usual M3.
    thread: f.mount_thread_mm ?? 3,
  })
})
const OUTCOMES: Record<string, string> = {
  hits_winding: 'hits winding',
  may_touch: 'may touch',
  past_thread: 'past thread',
  too_short: 'too short',
  good: 'good',
  unknown: 'unknown',
}
const propAt = ref<number | null>(null)
const prop = computed(
  () =>
    fit.value?.propellers.find((one) => one.propeller === propAt.value) ??
    ['good', 'caution', 'impossible']
      .map((outcome) => fit.value?.propellers.find((one) => one.outcome === outcome))
      .find(Boolean),
)
const onShaft = computed(() => {
  const one = prop.value
  const on = one?.on
  if (!on || !one.bore_mm || !one.hub_thickness_mm) return null
  return propPicture({
    shaft: on.diameter_mm,
    free: on.free_length_mm,
    bore: one.bore_mm,
    hub: one.hub_thickness_mm,
    nut: on.nut_mm,
    washer: on.washer_mm,
    rings: one.rings,
    screws: screwsOf(on, one),
  })
})
/** What carries it, in words: rings, an adapter. */
const means = (one: Schemas['PropellerFit']) =>
  [
    one.adapter && `on ${one.adapter}`,
    one.rings.length && `with ${one.rings.length} ${one.rings.length > 1 ? 'rings' : 'ring'}`,
  ]
    .filter(Boolean)
    .join(' ')
/** What carries it, and what is to be minded first. */
const wordsOf = (one: Schemas['PropellerFit']) =>
  [
    means(one),
    one.reason || one.findings.find((f) => f.state === one.outcome && f.state !== 'good')?.message,
  ]
    .filter(Boolean)
    .join(': ')
const SIDES: Record<string, string> = {
  base: 'It leaves on the mounting side: the propeller turns below the arm.',
  both: 'It leaves on both sides; judged above the bell.',
}

/** Two screws where they hold the propeller and all four sizes are known. */
function screwsOf(on: Schemas['CarriedOn'], one: Schemas['PropellerFit']) {
  const { hole_circle_mm: circle, screw_mm: thread } = on
  const { hole_circle_mm: holeCircle, hole_mm: hole } = one
  if (on.nut_mm > 0 || !circle || !thread || !holeCircle || !hole) return undefined
  return { circle, thread, holeCircle, hole }
}
</script>

<template>
  <div class="halves">
    <section class="sheet">
      <h2>Mounting screws</h2>
      <el-form class="line" @submit.prevent>
        <NumberField
          id="fit-arm"
          v-model="asked.arm"
          label="Arm"
          unit="mm"
          :placeholder="String(fit?.arm_thickness_mm ?? 4)"
        />
        <NumberField id="fit-screw" v-model="asked.screw" label="Screw" unit="mm" />
        <NumberField
          id="fit-washer"
          v-model="asked.washer"
          label="Washer"
          unit="mm"
          placeholder="0"
        />
        <NumberField id="fit-leads" v-model="asked.leads" label="To the ESC" unit="mm" />
      </el-form>
      <p v-if="query.error.value" class="field-problem" role="alert">
        {{ sentenceOf(query.error.value) }}
      </p>
      <PageState
        :loading="query.isPending.value && !query.error.value"
        :error="null"
        :retry="query.refetch"
      />
      <template v-if="fit">
        <ul class="findings pick">
          <li v-for="(one, at) in fit.screws" :key="one.length_mm">
            <button
              type="button"
              :aria-pressed="one.length_mm === screw?.length_mm"
              @click="screwAt = at"
            >
              <span class="tag" :class="TAGS[one.outcome]">{{ OUTCOMES[one.outcome] }}</span>
              <Figure :value="one.length_mm" unit="mm" /> {{ one.in_box ? 'in the box' : '' }}
            </button>
            <span class="small">{{ one.message }}</span>
          </li>
        </ul>
        <FitDrawing
          v-if="picture"
          :blocks="picture.blocks"
          :box="picture.box"
          :marks="[
            { y: -picture.windingAt, text: 'winding' },
            { y: -picture.threadEnd, text: 'thread ends' },
            { y: 0, text: 'arm' },
          ]"
          :bad="TAGS[screw?.outcome ?? 'unknown'] === 'over'"
          :name="`Screw of ${screw?.length_mm} mm through an arm of ${fit.arm_thickness_mm} mm: ${OUTCOMES[screw?.outcome ?? 'unknown']}`"
        />
        <p v-else class="soft">
          The drawing needs the thread's depth and its clearance to the winding:
          <RouterLink :to="`/intake/${file.motor.id}/outside`">measure them</RouterLink>.
        </p>
        <h3>Leads</h3>
        <p>
          <span class="tag" :class="TAGS[fit.leads.state]">{{ fit.leads.state }}</span>
          {{ fit.leads.message }}
        </p>
      </template>
    </section>
    <section class="sheet">
      <h2>Propellers of the library</h2>
      <p class="soft small">
        Shaft <Figure :value="fit?.shaft.diameter_mm" unit="mm" />, free
        <Figure :value="fit?.shaft.free_length_mm" unit="mm" />, nut
        <Figure :value="fit?.shaft.nut_mm" unit="mm" />. {{ SIDES[fit?.shaft.side ?? ''] ?? '' }}
        {{ fit?.adapters_at_hand ?? 0 }} adapters of the
        <RouterLink to="/rig?look=adapters">rig</RouterLink> are tried. Check a crack, the nut and
        the direction before it spins.
      </p>
      <p v-if="fit && !fit.propellers.length" class="soft">
        The library is empty: add a propeller under <RouterLink to="/rig">Rig</RouterLink>.
      </p>
      <ul v-if="fit" class="findings pick">
        <li v-for="one in fit.propellers" :key="one.propeller">
          <button
            type="button"
            :aria-pressed="one.propeller === prop?.propeller"
            @click="propAt = one.propeller"
          >
            <span class="tag" :class="TAGS[one.outcome]">{{ one.outcome }}</span>
            {{ one.name }}
          </button>
          <span class="small soft">{{ wordsOf(one) }}</span>
        </li>
      </ul>
      <template v-if="prop && onShaft">
        <FitDrawing
          :blocks="onShaft.blocks"
          :box="onShaft.box"
          :marks="[]"
          :bad="prop.outcome === 'impossible'"
          :name="`${prop.name} on ${prop.adapter || 'the shaft'}: ${prop.outcome}`"
        />
        <ul class="findings">
          <li v-for="finding in prop.findings" :key="finding.code">
            <span class="tag" :class="TAGS[finding.state]">{{ finding.state }}</span>
            {{ finding.message }}
          </li>
        </ul>
      </template>
    </section>
  </div>
</template>

<style scoped src="./intake.css"></style>
<style scoped>
.pick button {
  border: 0;
  background: none;
  padding: 2px 4px 2px 0;
  min-height: 28px;
  text-align: left;
  cursor: pointer;
  flex: 0 0 auto;
  display: flex;
  gap: 8px;
  align-items: baseline;
}
.pick button[aria-pressed='true'] {
  font-weight: 700;
  box-shadow: inset 0 -2px 0 var(--copper);
}
</style>
