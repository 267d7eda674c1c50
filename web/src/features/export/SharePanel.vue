<script setup lang="ts">
/** Before anything is shared: what goes out, and what is left out. */
import { computed, onMounted, ref, shallowRef, watch } from 'vue'
import { askPage, client, Problem, take } from '@/api/client'
import type { Outgoing, ShareRequest, ShareOut } from '@/api/types'
import SidePanel from '@/components/SidePanel.vue'
import { usePlate } from '@/stores/plate'
import { useAnswer, useKeys } from '@/stores/queries'
import { useSelection } from '@/stores/selection'
import { useStudy } from '@/stores/study'
import { countOf } from '@/figure-model/words'
import { useHanded } from './export-scene'
import { save } from '@/render/files/images'
import UiCheck from '@/ui/UiCheck.vue'
import UiField from '@/ui/UiField.vue'
import UiList from '@/ui/UiList.vue'
import UiNote from '@/ui/UiNote.vue'
import UiRow from '@/ui/UiRow.vue'
import UiSelect from '@/ui/UiSelect.vue'
import UiText from '@/ui/UiText.vue'
import UiAction from '@/ui/UiAction.vue'

const DAYS = [
  { value: null, label: 'until it is withdrawn' },
  { value: 1, label: 'for a day' },
  { value: 7, label: 'for a week' },
  { value: 30, label: 'for 30 days' },
]

const handed = useHanded()
const plate = usePlate()
const selection = useSelection()
const studies = useStudy()
const title = ref(handed.value?.name ?? '')
/** Variables beyond those drawn that can be read at each mark. */
const hover = ref<string[]>([])
const leftOut = ref<string[]>([])
const aside = ref(true)
const selectedToo = ref(true)
const days = ref<number | null>(null)
const shares = ref<ShareOut[]>([])
const problem = ref('')
const said = ref('')
const working = ref('')

/** Of tables rows; of datasets how many there are in each cell. */
const goesOut = computed(() => {
  const { rows, counted } = going.value!
  const said = [
    ...(rows || !counted ? [countOf(rows, 'row')] : []),
    ...(counted ? [`counts of ${countOf(counted, 'row')}`] : []),
  ]
  return `What goes out: ${said.join(', ')}`
})

/** The selected rows, by their table, where a figure that is shared shows it. */
const leftRows = computed((): Record<string, number[]> | null => {
  const { selected } = selection
  const isShown = handed.value?.figures.some(({ document }) => document.table === selected?.table)
  return selected && isShown ? { [selected.table]: [...selected.rows] } : null
})

const asked = computed((): ShareRequest => {
  const whole = plate.document
  return {
    title: title.value.trim() || 'Figure',
    figures: handed.value!.figures.map(({ document }) => document) as ShareRequest['figures'],
    plate: whole && {
      ...whole,
      // What stands beside the letters is settled here, where the study is known.
      cells: whole.cells
        .map((cell, i) => ({ ...cell, heading: plate.panels[i]?.heading ?? '' }))
        .filter((_, i) => plate.panels[i]?.figure),
    },
    hover: hover.value,
    leave_out: leftOut.value,
    rows_aside: aside.value,
    rows_left_out: selectedToo.value || !leftRows.value ? {} : leftRows.value,
  }
})

const keyOf = useKeys()
const { data: told, problem: whyNot } = useAnswer(
  () => {
    const { figures } = asked.value
    // Of every table that is shared, whatever it rests on.
    return figures.length
      ? [asked.value, ...figures.map(({ table }) => keyOf('outgoing', table))]
      : null
  },
  (signal) => take<Outgoing>(client.POST('/api/outgoing', { body: asked.value, signal })),
)
/** What goes out stands until the next list is there. */
const going = shallowRef<Outgoing | null>(null)
watch(told, (found) => found && (going.value = found), { immediate: true })

onMounted(async () => {
  shares.value = await take<ShareOut[]>(
    client.GET('/api/studies/{study_id}/shares', {
      params: { path: { study_id: studies.study!.id } },
    }),
  )
})

function toggle({ name, label, drawn_as, goes_out }: Outgoing['variables'][number]): void {
  const list = drawn_as.length ? leftOut : hover
  const isIn = list.value.includes(name)
  list.value = isIn ? list.value.filter((one) => one !== name) : [...list.value, name]
  // What is drawn and goes out is left out by being put on the list; the others the other way.
  said.value = goes_out ? `${label} stays here.` : `${label} goes out.`
}

async function attempt(what: string, work: () => Promise<void>): Promise<void> {
  working.value = what
  try {
    await work()
    problem.value = ''
  } catch (error) {
    if (!(error instanceof Problem)) throw error
    problem.value = error.sentence
  } finally {
    working.value = ''
  }
}

const savePage = () =>
  attempt('page', async () => {
    const name = asked.value.title.replace(/[^\p{L}\p{N}]+/gu, '-').toLowerCase()
    save(await askPage(asked.value), `${name}.html`)
  })

const share = () =>
  attempt('share', async () => {
    const made = await take<ShareOut>(
      client.POST('/api/studies/{study_id}/shares', {
        params: { path: { study_id: studies.study!.id } },
        body: { ...asked.value, days: days.value },
      }),
    )
    shares.value = [made, ...shares.value]
    said.value = 'Shared, as it is now.'
  })

const withdraw = (id: string) =>
  attempt('withdraw', async () => {
    await take(client.DELETE('/api/shares/{share_id}', { params: { path: { share_id: id } } }))
    shares.value = shares.value.filter((one) => one.id !== id)
    said.value = 'Withdrawn: nobody can open it any more.'
  })

const addressOf = ({ path }: ShareOut): string => `${location.origin}${path}`

async function copy(one: ShareOut): Promise<void> {
  try {
    await navigator.clipboard.writeText(addressOf(one))
    said.value = 'Address copied.'
  } catch {
    problem.value = 'The browser did not allow copying: copy the address by hand.'
  }
}

const until = ({ expires }: ShareOut): string =>
  expires ? `until ${new Date(expires).toLocaleDateString('en-GB')}` : 'until it is withdrawn'
</script>

<template>
  <SidePanel heading="Share">
    <UiNote>
      A page to look at: others hover, zoom and read the readings, and change nothing. It shows the
      {{ handed?.kind }} as it is now.
    </UiNote>
    <UiText
      label="Title of the page"
      :maxlength="500"
      :model-value="title"
      @typed="title = $event"
    />
    <UiField v-if="going" :label="goesOut" role="group" :aria-label="goesOut">
      <UiRow v-for="v in going.variables" :key="v.name">
        <UiCheck
          class="ui-fill"
          :label="v.label"
          :model-value="v.goes_out"
          :disabled="v.needed"
          @update:model-value="toggle(v)"
        />
        <span class="quiet">{{ v.drawn_as.join(', ') || (v.goes_out ? 'on hover' : '') }}</span>
      </UiRow>
      <UiRow v-if="going.rows_aside || !aside">
        <UiCheck v-model="aside" class="ui-fill" label="rows set aside" />
        <span v-if="aside" class="quiet">{{ going.rows_aside }}</span>
      </UiRow>
      <UiRow v-if="leftRows">
        <UiCheck v-model="selectedToo" class="ui-fill" label="rows selected now" />
        <span class="quiet">{{ selection.selected?.rows.size }}</span>
      </UiRow>
      <UiNote>
        {{ countOf(going.rows_kept, 'row') }} of the tables stay here. What is left out is not in
        the page at all; lines are fitted to the rows that go out.
        <template v-if="going.counted">
          Rows of a dataset are never shared, only counts in each cell of the figure. A count of one
          shows roughly where that row is.
        </template>
      </UiNote>
      <UiNote v-for="one in going.typed" :key="one" kind="wrong" role="status">{{ one }}</UiNote>
    </UiField>
    <UiAction kind="main" :disabled="whyNot !== ''" :busy="working === 'page'" @click="savePage">
      Save as one HTML file
    </UiAction>
    <UiSelect v-model="days" label="At a private link" :options="DAYS" />
    <UiAction :disabled="whyNot !== ''" :busy="working === 'share'" @click="share">
      Create private link
    </UiAction>
    <UiList v-if="shares.length" label="Shared pages">
      <li v-for="one in shares" :key="one.id">
        <a :href="one.path" target="_blank" rel="noopener" class="link">{{ one.name }}</a>
        <span class="quiet">&ensp;{{ until(one) }}</span>
        <UiRow>
          <UiAction kind="words" @click="copy(one)">Copy address</UiAction>
          <UiAction kind="caution" @click="withdraw(one.id)">Withdraw</UiAction>
        </UiRow>
      </li>
    </UiList>
    <UiNote v-if="said" role="status">{{ said }}</UiNote>
    <UiNote v-if="problem || whyNot" kind="wrong">{{ problem || whyNot }}</UiNote>
  </SidePanel>
</template>
