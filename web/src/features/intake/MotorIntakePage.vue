<script setup lang="ts">
/** Is the parcel what it says? One motor's intake, step by step. */
import { useQuery } from '@tanstack/vue-query'
import { useEventListener } from '@vueuse/core'
import { computed, ref, watch, watchEffect } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { motorFileQuery, teardownQuery } from '@/api/queries'
import PageState from '@/app/PageState.vue'
import { useInHand } from '@/app/useInHand'
import SampleThumb from '@/cutaway/SampleThumb.vue'
import MotorMark from '@/figures/MotorMark.vue'
import SamplePicker from '@/figures/SamplePicker.vue'
import ClaimStep from './ClaimStep.vue'
import FitStep from './FitStep.vue'
import IdentitySheet from './IdentitySheet.vue'
import MassStep from './MassStep.vue'
import OutsideStep from './OutsideStep.vue'
import ParcelStep from './ParcelStep.vue'
import PeersStep from './PeersStep.vue'
import { done, STEPS, stepAfter } from './steps'

const route = useRoute()
const router = useRouter()
const inHand = useInHand()
const id = computed(() => Number(route.params.id))
const { data: file, isPending, error, refetch } = useQuery(computed(() => motorFileQuery(id.value)))
watchEffect(() => {
  if (file.value) inHand.value = id.value
})

const step = computed(
  () => STEPS.find((one) => one.key === route.params.step) ?? (STEPS[0] as (typeof STEPS)[number]),
)
const after = computed(() => stepAfter(step.value.key))
const sampleId = ref(0)
watch(
  () => file.value?.motor.samples,
  (samples) => {
    if (!samples?.some((sample) => sample.id === sampleId.value))
      sampleId.value = samples?.[0]?.id ?? 0
  },
  { immediate: true },
)
const { data: sheet } = useQuery(
  computed(() => ({ ...teardownQuery(sampleId.value), enabled: sampleId.value > 0 })),
)
const answered = computed(
  () => new Set((sheet.value?.observations ?? []).map((seen) => seen.attribute as string)),
)
const ofSample = computed(() => ['mass', 'outside', 'fit'].includes(step.value.key))

useEventListener(window, 'keydown', (event: KeyboardEvent) => {
  if (event.ctrlKey || event.metaKey || event.altKey) return
  if ((event.target as HTMLElement).closest?.('input, textarea, select')) return
  const to = STEPS[Number(event.key) - 1]
  if (to) void router.push(`/intake/${id.value}/${to.key}`)
})
</script>

<template>
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <template v-if="file">
    <header class="head">
      <h1><MotorMark :motor="id" />Intake: {{ file.motor.full_name }}</h1>
      <SampleThumb
        :sample="sampleId"
        :name="file.motor.full_name"
        :size="{ code: file.motor.size_code ?? '', basis: file.motor.size_basis ?? '' }"
      />
      <RouterLink :to="`/motors/${id}`">Motor file</RouterLink>
    </header>
    <nav class="steps" aria-label="Steps of intake">
      <RouterLink
        v-for="(one, at) in STEPS"
        :key="one.key"
        :to="`/intake/${id}/${one.key}`"
        :aria-current="one.key === step.key ? 'step' : undefined"
        :class="{ done: done(one.key, { file, answered }) }"
      >
        <kbd>{{ at + 1 }}</kbd> {{ one.label }}
        <span v-if="done(one.key, { file, answered })" class="small">there</span>
      </RouterLink>
    </nav>
    <div class="ask">
      <p class="soft">{{ step.question }}</p>
      <SamplePicker
        v-if="ofSample"
        :samples="file.motor.samples"
        :chosen="sampleId"
        @choose="sampleId = $event"
      />
    </div>
    <template v-if="step.key === 'parcel'">
      <IdentitySheet :file="file" />
      <ParcelStep :file="file" />
    </template>
    <ClaimStep v-else-if="step.key === 'claims'" :file="file" />
    <MassStep v-else-if="step.key === 'mass'" :file="file" :sample="sampleId" />
    <OutsideStep v-else-if="step.key === 'outside'" :file="file" :sample="sampleId" />
    <FitStep v-else-if="step.key === 'fit'" :file="file" :sample="sampleId" />
    <PeersStep v-else :file="file" />
    <p class="next">
      <RouterLink v-if="after" :to="`/intake/${id}/${after.key}`" class="go"
        >Next: {{ after.label }}</RouterLink
      >
      <RouterLink v-else :to="`/teardown/${sampleId}`" class="go">Next: take it apart</RouterLink>
    </p>
  </template>
</template>

<style scoped>
.head {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 14px;
}
.head h1 {
  flex: 1;
}
.steps {
  display: flex;
  gap: 4px;
  margin: 12px 0 0;
  border-bottom: 1px solid var(--ink-soft);
}
.steps a {
  padding: 8px 12px;
  color: var(--ink);
  text-decoration: none;
  border-bottom: 4px solid transparent;
}
.steps a[aria-current] {
  border-bottom-color: var(--copper);
  font-weight: 700;
}
.steps .small {
  color: var(--within);
}
kbd {
  font-family: var(--digits);
  font-size: 12px;
  border: 1px solid var(--line);
  border-radius: 3px;
  padding: 0 5px;
  background: var(--sheet);
}
.ask {
  display: flex;
  justify-content: space-between;
  align-items: center;
  min-height: 40px;
  margin: 8px 0;
}
.ask p {
  margin: 0;
}
.next {
  text-align: right;
  margin: 14px 0 0;
}
.go {
  display: inline-block;
  padding: 7px 16px;
  background: var(--copper);
  color: var(--on-ink);
  border-radius: 3px;
  text-decoration: none;
}
</style>
