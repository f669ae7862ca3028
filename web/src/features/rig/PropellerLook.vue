<script setup lang="ts">
/** The library of propellers: as they are written, what their hubs measure, what is retired. */
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { coefficientsQuery } from '@/api/queries'
import { propellersQuery } from '@/api/rigQueries'
import PageState from '@/app/PageState.vue'
import { useSession } from '@/app/useSession'
import CoefficientTable from './CoefficientTable.vue'
import CommonSizes from './CommonSizes.vue'
import HubRow from './HubRow.vue'
import PropellerAdder from './PropellerAdder.vue'

const { data, isPending, error, refetch } = useQuery(propellersQuery())
const { mayWrite } = useSession()
const chosenOpen = ref<boolean | null>(null)
/** An empty library begins with them. */
const common = computed({
  get: () => chosenOpen.value ?? data.value?.length === 0,
  set: (open) => (chosenOpen.value = open),
})
/** What the accepted runs tell of each. */
const told = useQuery(coefficientsQuery())
const names = computed(() => new Map((data.value ?? []).map((row) => [row.id, row.full_name])))
const PAGE = 40
const words = ref('')
const shown = ref(PAGE)
const found = computed(() => {
  const wanted = words.value.toLowerCase().split(/\s+/).filter(Boolean)
  return (data.value ?? [])
    .filter((row) => wanted.every((word) => row.full_name.toLowerCase().includes(word)))
    .sort((a, b) => Number(a.retired) - Number(b.retired))
})
</script>

<template>
  <PageState :loading="isPending" :error="error" :retry="refetch" />
  <section v-if="data" class="sheet">
    <div class="bar">
      <h2>Propellers</h2>
      <span class="bar">
        <el-input
          v-if="data.length > 12"
          v-model="words"
          clearable
          placeholder="Find by maker or size"
          aria-label="Find a propeller"
        />
        <el-button v-if="mayWrite" :aria-expanded="common" @click="common = !common"
          >Common sizes</el-button
        >
      </span>
    </div>
    <PropellerAdder v-if="mayWrite" />
    <CommonSizes v-if="mayWrite" :open="common" />
    <p v-if="!data.length" class="soft">None yet: take common sizes, or write your own above.</p>
    <table v-else class="grid">
      <thead>
        <tr>
          <th>Propeller</th>
          <th class="num">Mass<br />g</th>
          <th class="num">Bore<br />mm</th>
          <th class="num">Hub<br />mm</th>
          <th class="num">Hole circle<br />mm</th>
          <th class="num">Holes<br />mm</th>
          <th>Turns</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <HubRow
          v-for="propeller in found.slice(0, shown)"
          :key="propeller.id"
          :propeller="propeller"
        />
      </tbody>
    </table>
    <p v-if="found.length > shown" class="soft">
      {{ shown }} of {{ found.length }}.
      <el-button size="small" @click="shown += PAGE">More</el-button>
    </p>
    <p v-if="data.length && !found.length" class="soft">No propeller has these words.</p>
  </section>
  <section v-if="told.data.value?.length" class="sheet" aria-labelledby="ladder">
    <h2 id="ladder">What accepted runs tell of them</h2>
    <CoefficientTable :rows="told.data.value" :names="names" />
  </section>
</template>

<style scoped src="./rig.css"></style>
