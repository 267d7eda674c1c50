<script setup lang="ts">
/** Find: what is wanted, in one's own words, leads to the control itself. */
import { computed, onBeforeUnmount, onMounted, ref, shallowRef, useTemplateRef } from 'vue'
import { useRouter } from 'vue-router'
import { figureName, statementOf } from '@/kinds'
import { entriesOf } from '@/render/entries'
import { plateName } from '@/plates/names'
import { statementContext } from '@/stores/statement-context'
import { pressedInStudy } from '@/stores/single-keys'
import { isTyping } from '@/lib/typing'
import { useFigure } from '@/stores/figure'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'
import UiFind from '@/ui/UiFind.vue'
import { offered } from '@/stores/commands'
import { finder } from './entries'
import type { Entry, Findings, Offered } from './types'

const figure = useFigure()
const studies = useStudy()
const side = useSide()
const router = useRouter()
const typed = ref('')
const said = ref('')
const field = useTemplateRef<InstanceType<typeof UiFind>>('field')

const open = (name: string, params: Record<string, string>) => () =>
  router.push({ name, params: { studyId: studies.study!.id, ...params } })

const figures = computed(() => [
  ...studies.figures.map(({ id, document }) => ({
    label: figureName(document, studies.variableOf),
    open: open('study', { figureId: id }),
  })),
  ...studies.plates.map(({ id, document }) => ({
    label: plateName(document, studies.figures, studies.variableOf),
    open: open('plate', { plateId: id }),
  })),
])

/** Passages of the guide, fetched when the field is first entered, and found from the next letter on:
 * answers change by typing alone, never under the hand that is about to choose one. */
const guide = shallowRef<NonNullable<Offered['guide']>>([])
let fetched = guide.value
async function fetchGuide(): Promise<void> {
  if (fetched.length) return
  // Without it, whatever does something is found all the same.
  const pages = await import('@/lib/guide-pages').catch(() => null)
  if (!pages) return
  const { PAGES, SECTIONS } = pages
  fetched = SECTIONS.map(({ page, anchor, title }) => ({
    title,
    page: PAGES.find(({ name }) => name === page)?.title ?? page,
    open: () => router.push({ name: 'guide', params: { page }, hash: anchor && `#${anchor}` }),
  }))
}

/** The word of the statement that is called so, opened as if it were clicked. */
function word(label: string): void {
  const words = document.querySelectorAll<HTMLElement>('[data-testid="statement"] button')
  const called = [...words].find((one) => {
    const name = one.getAttribute('aria-label') ?? one.textContent
    const isSaid = name === label || name.startsWith(`${label}:`) || name.endsWith(`: ${label}`)
    return isSaid || (label === 'rows' && /row/i.test(name))
  })
  called?.focus()
  called?.click()
}

const findings = computed((): Offered => {
  const { document } = figure
  const table = document && studies.tableOf(document.table)
  const common = { acts: offered.value, figures: figures.value, guide: guide.value }
  // A plate has no figure of its own: what can be done, and what can be opened, is found there, too.
  if (!table) return common
  const of: Findings = {
    ...common,
    scope: {
      document,
      drawn: figure.drawn,
      variables: table.summary.variables,
      needsRows: figure.needsRows,
    },
    statement: statementOf(statementContext(figure, studies, side)),
    entries: entriesOf(figure.drawn?.answer.colour ?? null),
    categories: table.summary.variables.flatMap(({ name, kind, counts }) => {
      if (kind !== 'category') return []
      const looks = studies.looksOf(name)
      return Object.keys(counts ?? {}).map((value) => ({
        variable: name,
        value,
        label: looks.find((look) => look.value === value)?.label || value,
      }))
    }),
    rows: table.summary.rows,
    seek: side.seek,
    word,
    lookAt: (name) => side.show({ kind: 'variable', name }),
    edit: figure.edit,
    row: (place) => (side.listed = { table: table.id, rows: [place - 1], title: `Row ${place}` }),
  }
  return of
})

/** Built once for what is open, when something is first typed. */
const finds = computed(() => finder(findings.value))
const found = computed((): Entry[] => (typed.value.trim() ? finds.value(typed.value) : []))
const answers = computed(() =>
  found.value.map((entry) => ({ ...entry, key: keyOf(entry), why: entry.why ?? '' })),
)

const keyOf = ({ where, label }: Entry): string => `${where}: ${label}`

/** What was offered, by its key: the field holds other words by the time a choice arrives. */
const offeredLately = new Map<string, Entry>()
function remember(words: string): void {
  guide.value = fetched
  typed.value = words
  for (const entry of found.value) offeredLately.set(keyOf(entry), entry)
}

function choose(key: string): void {
  const entry = offeredLately.get(key)
  offeredLately.clear()
  said.value = entry?.why ?? ''
  const before = side.shown
  entry?.does?.()
  requestAnimationFrame(() => rest(side.shown !== before))
}

/** The focus goes to the panel that was opened, or to the figure; never back to the top of the page. */
function rest(isOpened = false): void {
  const { activeElement } = document
  if (activeElement && activeElement !== document.body) return
  const panel = isOpened ? document.querySelector<HTMLElement>(`[data-opens] .ui-panel h2`) : null
  const figure = document.querySelector<HTMLElement>('[role="application"]')
  const next = panel ?? figure
  next?.focus({ preventScroll: true })
}

function key(event: KeyboardEvent): void {
  if (event.defaultPrevented || isTyping(event.target) || pressedInStudy(event) !== 'find') return
  event.preventDefault()
  field.value?.focus()
}
onMounted(() => window.addEventListener('keydown', key))
onBeforeUnmount(() => window.removeEventListener('keydown', key))
</script>

<template>
  <UiFind
    ref="field"
    :model-value="typed"
    label="Find a setting, an action, a variable"
    :answers="answers"
    @focusin="fetchGuide"
    @update:model-value="remember"
    @chosen="choose"
    @left="rest()"
  />
  <span v-if="said" class="quiet small" role="status">{{ said }}</span>
</template>
