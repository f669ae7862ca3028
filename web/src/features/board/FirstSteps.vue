<script setup lang="ts">
/** An empty bench: the first three steps, each with what is there for it already. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { propellerSearchQuery, standsQuery, suppliesQuery } from '@/api/rigQueries'

const props = defineProps<{ motors: number }>()
const { data: propellers } = useQuery(propellerSearchQuery(''))
const { data: stands } = useQuery(standsQuery())
const { data: supplies } = useQuery(suppliesQuery())

const live = computed(() => stands.value?.find((stand) => stand.live))
const steps = computed(() => [
  {
    title: 'Open the first parcel',
    says: 'Give the motor its name, its size code and the kV on its label.',
    done: props.motors > 0,
    to: '/intake',
    act: 'Take in a motor',
  },
  {
    title: 'Put a propeller into the library',
    says: 'Take common sizes with one press, or write down your own. Hubs can be measured later.',
    done: (propellers.value?.length ?? 0) > 0,
    to: '/rig',
    act: 'Choose propellers',
  },
  {
    title: 'Make the first run',
    says:
      live.value && supplies.value?.length
        ? `${live.value.name} is there to try it on${/simulated/i.test(live.value.name) ? ': nothing turns' : ''}. Or import a log that you have.`
        : 'Add a stand and a supply to the rig, or import a log that you have.',
    done: false,
    to: live.value && supplies.value?.length ? '/bench' : '/rig',
    act: live.value && supplies.value?.length ? 'Go to the bench' : 'Go to the rig',
  },
])
const now = computed(() => steps.value.findIndex((step) => !step.done))
</script>

<template>
  <section class="sheet steps" aria-label="First steps">
    <h2>{{ motors ? 'On the way to the first run' : 'The bench is empty' }}</h2>
    <ol>
      <li v-for="(step, at) in steps" :key="step.title" :class="{ done: step.done }">
        <span class="number" aria-hidden="true">{{ step.done ? '✓' : at + 1 }}</span>
        <div>
          <strong>{{ step.title }}</strong>
          <span v-if="step.done" class="soft"> done</span>
          <p class="soft">{{ step.says }}</p>
        </div>
        <RouterLink v-slot="{ navigate }" :to="step.to" custom>
          <el-button
            v-if="!step.done"
            :type="at === now ? 'primary' : 'default'"
            @click="navigate"
            >{{ step.act }}</el-button
          >
        </RouterLink>
      </li>
    </ol>
  </section>
</template>

<style scoped>
.steps {
  max-width: 820px;
}
ol {
  list-style: none;
  margin: 6px 0 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 36px minmax(0, 1fr) auto;
  gap: 12px;
  align-items: center;
  padding: 10px 0;
  border-top: 1px solid var(--line-soft);
}
.number {
  display: grid;
  place-items: center;
  width: 32px;
  height: 32px;
  border: 2px solid var(--copper);
  border-radius: 50%;
  font-weight: 700;
}
.done .number {
  border-color: var(--within);
  color: var(--within);
}
p {
  margin: 0;
}
</style>
