<script setup lang="ts">
/** What readers ask of this campaign, what is wanted soonest first. */
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { requestsQuery } from '@/api/benchQueries'
import { api, dataOf, sentenceOf, type Schemas } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import PageState from '@/app/PageState.vue'
import { useSession } from '@/app/useSession'
import { askedFor, cellAsked } from './asked'

const props = defineProps<{
  campaign: Schemas['Campaign']
  matrix: Schemas['Matrix'] | undefined
}>()
const emit = defineEmits<{ look: [at: [number, number]] }>()
const { mayWrite } = useSession()
const { data, isPending, error, refetch } = useQuery(
  computed(() => requestsQuery(props.campaign.id)),
)
const requests = computed(() => data.value ?? [])
const joining = useWrite('letter', async (row: Schemas['Letter']) =>
  dataOf(
    await api.PATCH('/api/v1/letters/{id}/', {
      params: { path: { id: row.id } },
      body: { campaign: props.campaign.id, version: row.version },
    }),
  ),
)
</script>

<template>
  <PageState v-if="error" :loading="isPending" :error="error" :retry="refetch" />
  <section v-else-if="requests.length" class="sheet" aria-labelledby="asked-for">
    <h2 id="asked-for">Readers ask</h2>
    <ul>
      <li v-for="one in requests" :key="one.id">
        <p class="text">“{{ one.text }}”</p>
        <p class="soft small">
          {{ askedFor(one) }}
          <template v-if="one.motor_name"
            >·
            {{ [one.motor_name, one.propeller_name, one.supply_name].filter(Boolean).join(', ') }}
          </template>
        </p>
        <el-button
          v-if="matrix && cellAsked(one, matrix)"
          size="small"
          @click="emit('look', cellAsked(one, matrix)!)"
          >Show its cell</el-button
        >
        <el-button
          v-if="mayWrite && !one.campaign"
          size="small"
          :loading="joining.busy.value"
          @click="joining.send(one)"
          >This campaign answers it</el-button
        >
        <RouterLink class="small" to="/afterwards?look=letters">Answer or decline it</RouterLink>
      </li>
    </ul>
    <p v-if="joining.problem.value" role="alert" class="fault">
      {{ sentenceOf(joining.problem.value) }}
    </p>
  </section>
</template>

<style scoped>
.sheet {
  margin-bottom: 12px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  padding: 6px 0;
  border-top: 1px solid var(--line-soft);
}
.text {
  margin: 0;
  max-width: 76ch;
}
li a {
  margin-left: 12px;
}
p.small {
  margin: 2px 0 4px;
}
.fault {
  color: var(--stop);
}
</style>
