<script setup lang="ts">
/** A pack before it is kept: whose it is, how good its evidence is, and what in it is ours. */
import { ref } from 'vue'
import { fieldMessage, type Schemas, sendForm, sentenceOf } from '@/api/client'
import { useWrite } from '@/api/useWrite'
import PropellerField from '@/forms/PropellerField.vue'
import OursMotor from './OursMotor.vue'
import { asSent, saidOf } from './ours'
import { fileSize } from '@/figures/format'

const props = defineProps<{ file: File; looked: Schemas['Looked'] }>()
const emit = defineEmits<{ quoted: [pack: Schemas['QuotedPack']]; drop: [] }>()
const said = ref(saidOf(props.looked.motors, props.looked.propellers))
const quoting = useWrite('quoted', () => {
  const form = new FormData()
  form.append('file', props.file)
  form.append('ours', asSent(said.value, props.looked.motors))
  return sendForm<Schemas['QuotedPack']>('/api/v1/quoted-packs/', form)
})
async function quote() {
  const pack = await quoting.send()
  if (pack) emit('quoted', pack)
}
</script>

<template>
  <section class="sheet" aria-labelledby="looked">
    <h2 id="looked">{{ looked.bench_name }}: {{ looked.subject }}</h2>
    <p class="soft small">
      Edition {{ looked.edition }} of {{ looked.issued_on }} · {{ looked.runs }} runs ·
      {{ fileSize(looked.size_bytes)
      }}<template v-if="looked.address"> · {{ looked.address }}</template>
    </p>
    <blockquote v-if="looked.sentence">{{ looked.sentence }}</blockquote>
    <p>{{ looked.grade_line }}</p>
    <p>
      Licence: <strong>{{ looked.licence || 'not said; ask them before you use it' }}</strong>
    </p>
    <ul v-if="looked.disclosure.length" class="small">
      <li v-for="line in looked.disclosure" :key="line">{{ line }}</li>
    </ul>
    <el-form label-position="top" @submit.prevent="quote">
      <h3>What of it is ours?</h3>
      <p class="soft small">
        By its name where one fits. A sample is only the very same where it was on both benches:
        then nothing is added for samples that differ.
      </p>
      <OursMotor
        v-for="one in looked.motors"
        :key="one.key"
        v-model="said.motors[one.key]!"
        :motor="one"
        :runs="one.runs"
        may-begin
        :problem="fieldMessage(quoting.problem.value, `motors.${one.key}`)"
      />
      <div class="propellers">
        <PropellerField
          v-for="one in looked.propellers"
          :key="one.key"
          v-model="said.propellers[one.key]!"
          :label="`Their ${one.full_name} is our`"
          :problem="fieldMessage(quoting.problem.value, `propellers.${one.key}`)"
        />
      </div>
      <div class="row">
        <el-button type="primary" native-type="submit" :loading="quoting.busy.value"
          >Quote it</el-button
        >
        <el-button text @click="emit('drop')">Leave it</el-button>
        <span class="soft small"
          >Every run is reduced here from its log; nothing of it counts as measured here.</span
        >
      </div>
      <p v-if="quoting.problem.value" role="alert" class="fault">
        {{ sentenceOf(quoting.problem.value) }}
      </p>
    </el-form>
  </section>
</template>

<style scoped>
.sheet {
  margin-top: 12px;
}
blockquote {
  margin: 6px 0;
  padding-left: 10px;
  border-left: 3px solid var(--rule);
}
.propellers {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(260px, 1fr));
  gap: 10px 14px;
  max-width: 900px;
  margin: 8px 0;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  margin-top: 12px;
}
.fault {
  color: var(--stop);
}
</style>
