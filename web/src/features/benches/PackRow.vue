<script setup lang="ts">
/** One pack that was quoted: what it is, whether it counts, what in it is ours. */
import { ref, watch } from 'vue'
import { api, dataOf, fieldMessage, type Schemas, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import { useSession } from '@/app/useSession'
import PropellerField from '@/forms/PropellerField.vue'
import TextField from '@/forms/TextField.vue'
import OursMotor from './OursMotor.vue'
import { asSent, saidOf } from './ours'

const props = defineProps<{ pack: Schemas['QuotedPack'] }>()
const { mayWrite } = useSession()
const reason = ref('')
const asking = ref(false)
const matching = ref(false)
const said = ref(saidOf(props.pack.motors, props.pack.propellers))
watch(
  () => props.pack.version,
  () => (said.value = saidOf(props.pack.motors, props.pack.propellers)),
)
const changing = useWrite('quoted', async (body: Schemas['PatchedChangePackRequest']) =>
  dataOf(
    await api.PATCH('/api/v1/quoted-packs/{id}/', {
      params: { path: { id: props.pack.id } },
      body: { ...body, version: props.pack.version },
    }),
  ),
)
async function aside(text: string) {
  if (!(await changing.send({ put_aside: text }))) return
  asking.value = false
  reason.value = ''
}
async function match() {
  if (await changing.send({ ours: asSent(said.value, props.pack.motors) })) matching.value = false
}
const things = (pack: Schemas['QuotedPack']) =>
  pack.motors.map((one) => ({
    ...one,
    marks: one.samples.map((sample) => sample.mark),
    same: one.samples
      .filter((sample) => sample.ours !== null)
      .map((sample) => `their ${sample.mark} is our ${sample.ours_mark}`),
  }))
</script>

<template>
  <li class="pack" :class="{ aside: !pack.counts }">
    <p class="head">
      <strong>{{ pack.subject }}</strong>
      <span class="soft">edition {{ pack.edition }} of {{ pack.issued_on }}</span>
      <a :href="`/api/v1/quoted-packs/${pack.id}/file/`" download>the file</a>
    </p>
    <p v-if="pack.put_aside">Put aside: {{ pack.put_aside }}</p>
    <p v-else-if="!pack.counts" class="soft">A later edition counts.</p>
    <p v-if="pack.sentence">“{{ pack.sentence }}”</p>
    <p class="small">
      {{ pack.grade_line }} Licence: {{ pack.licence || 'not said' }}.
      {{ pack.disclosure.join(' ') }}
    </p>
    <ul class="small ours">
      <li v-for="one in things(pack)" :key="one.key">
        Their {{ one.full_name }}
        <template v-if="one.ours"
          >is our
          <RouterLink :to="`/motors/${one.ours}?look=quoted`">{{
            one.ours_name
          }}</RouterLink><template v-if="one.same.length"
            >; {{ one.same.join(', ') }}</template
          ></template
        >
        <template v-else>is none of ours</template>
      </li>
    </ul>
    <details v-if="pack.remarks.length" class="small">
      <summary>
        {{ pack.remarks.length }} {{ pack.remarks.length === 1 ? 'run' : 'runs' }} whose log gives
        another figure than they state
      </summary>
      <ul>
        <li v-for="one in pack.remarks" :key="one.number">
          Their run {{ one.number }}: {{ one.remarks.join(' ') }}
        </li>
      </ul>
    </details>
    <div v-if="mayWrite" class="row">
      <el-button v-if="!matching" text size="small" @click="matching = true"
        >Say what is ours …</el-button
      >
      <el-button v-if="pack.put_aside" text size="small" @click="aside('')"
        >Let it count again</el-button
      >
      <el-button v-else-if="!asking" text size="small" @click="asking = true"
        >Put it aside …</el-button
      >
    </div>
    <form v-if="asking" class="row" @submit.prevent="aside(reason)">
      <TextField
        v-model="reason"
        label="Why it is put aside"
        :maxlength="240"
        width="wide"
        :problem="fieldMessage(changing.problem.value, 'put_aside')"
      />
      <el-button native-type="submit" :disabled="!reason.trim()" :loading="changing.busy.value"
        >Put it aside</el-button
      >
      <el-button text @click="asking = false">Leave it</el-button>
    </form>
    <el-form v-if="matching" label-position="top" @submit.prevent="match">
      <OursMotor
        v-for="one in things(pack)"
        :key="one.key"
        v-model="said.motors[one.key]!"
        :motor="{ key: one.key, full_name: one.full_name, samples: one.marks }"
        :problem="fieldMessage(changing.problem.value, `motors.${one.key}`)"
      />
      <div class="propellers">
        <PropellerField
          v-for="one in pack.propellers"
          :key="one.key"
          v-model="said.propellers[one.key]!"
          :label="`Their ${one.full_name} is our`"
        />
      </div>
      <div class="row">
        <el-button type="primary" native-type="submit" :loading="changing.busy.value"
          >Keep</el-button
        >
        <el-button text @click="matching = false">Leave it</el-button>
      </div>
    </el-form>
    <p v-if="changing.problem.value" role="alert" class="fault">
      {{ sentenceOf(changing.problem.value) }}
    </p>
  </li>
</template>

<style scoped>
.pack {
  padding: 8px 0;
  border-top: 1px solid var(--rule);
}
.pack p {
  margin: 2px 0;
}
.head {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 12px;
}
.aside > :not(.row) {
  color: var(--ink-soft);
}
.ours {
  margin: 2px 0;
  padding-left: 18px;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: flex-end;
}
.propellers {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(260px, 1fr));
  gap: 10px 14px;
  max-width: 900px;
}
.fault {
  color: var(--stop);
}
</style>
