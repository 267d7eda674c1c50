/** What the address names is opened: its study, and the figure or the plate in it, one at a time. */
import { onBeforeUnmount, ref, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'
import { Problem } from '@/api/client'
import { useFigure } from '@/stores/figure'
import { usePlate } from '@/stores/plate'
import { useSelection } from '@/stores/selection'
import { useSide } from '@/stores/side'
import { useStudy } from '@/stores/study'

export interface Address {
  studyId: string
  figureId?: string
  plateId?: string
}

/** @param missing is told where the address names something that is not there */
export function useOpening(address: () => Address, missing: (sentence: string) => void) {
  const router = useRouter()
  const studies = useStudy()
  const figure = useFigure()
  const plate = usePlate()
  const side = useSide()
  const selection = useSelection()
  const problem = shallowRef<Problem | null>(null)
  const isLoaded = ref(false)
  /** An address that came later is the one that is opened, whichever study is there first. */
  let turn = 0

  async function openStudy(id: string): Promise<boolean> {
    // A study that is come back to may have been renamed or changed elsewhere.
    if (studies.study?.id === id && isLoaded.value) return true
    // Nothing of the study before can be acted on while this one is on its way.
    figure.close()
    plate.close()
    isLoaded.value = false
    if (!(await studies.load(id))) return false
    isLoaded.value = true
    return true
  }

  async function openThat(wanted: Address, isCurrent: () => boolean): Promise<void> {
    if (!(await openStudy(wanted.studyId)) || !isCurrent()) return
    const plated = studies.plates.find(({ id }) => id === wanted.plateId)
    if (plated) {
      figure.close()
      if (side.shown.kind !== 'export') side.rest()
      if (plate.id !== plated.id) await plate.open(plated)
      return
    }
    if (plate.id) plate.close()
    const named = studies.figures.find(({ id }) => id === wanted.figureId)
    const isMissing = Boolean(wanted.figureId ? !named : wanted.plateId)
    if (isMissing) missing('What this address names is not in the study any more.')
    const found = named ?? studies.figures.at(0) ?? null
    if (!found) figure.close()
    else if (figure.id !== found.id) await figure.open(found)
  }

  async function load(): Promise<void> {
    const mine = ++turn
    const isCurrent = (): boolean => mine === turn
    try {
      await openThat({ ...address() }, isCurrent)
      if (isCurrent()) problem.value = null
    } catch (error) {
      if (!(error instanceof Problem)) throw error
      if (isCurrent()) problem.value = error
    }
  }

  watch(
    () => address().studyId,
    () => {
      side.clear()
      selection.clear()
    },
  )
  watch(() => Object.values(address()), load, { immediate: true })
  onBeforeUnmount(() => {
    side.clear()
    selection.clear()
  })

  const to = (id: string) => {
    if (side.listed?.rows) side.listed = null
    return router.push({ name: 'study', params: { studyId: address().studyId, figureId: id } })
  }

  const toPlate = (id: string) =>
    router.push({ name: 'plate', params: { studyId: address().studyId, plateId: id } })

  /** Deletes the figure or the plate that is open; the page goes on to the next once it is gone. */
  async function deleteOpen(): Promise<void> {
    const [figureId, plateId] = [figure.id, plate.id]
    if (plateId) await studies.remove('plate', plateId)
    else if (figureId) {
      await figure.flush()
      const { revision } = studies.figures.find(({ id }) => id === figureId) ?? {}
      await studies.remove('figure', figureId, revision)
    }
  }

  /** What is open and gone from the study, by whichever act, gives way to the next. */
  watch(
    () =>
      (figure.id !== null && !studies.figures.some(({ id }) => id === figure.id)) ||
      (plate.id !== null && !studies.plates.some(({ id }) => id === plate.id)),
    async (isGone) => {
      if (!isGone || !isLoaded.value) return
      figure.close()
      plate.close()
      const next = studies.figures.at(0)
      const { studyId } = address()
      await router.replace({ name: 'study', params: { studyId, figureId: next?.id } })
      await load()
    },
  )

  /** Shows a figure or a plate where a step of undo was made. */
  async function show(kind: 'plate' | 'figure', id: string): Promise<void> {
    await (kind === 'plate' ? toPlate(id) : to(id))
    await load()
  }

  return { problem, to, toPlate, deleteOpen, show }
}
