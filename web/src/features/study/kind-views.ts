/** The kinds of figure as they stand on the page of a study. */
import type { Component } from 'vue'
import type { FigureDocument } from '@/api/types'
import FigureView from '@/features/figure/FigureView.vue'
import MatrixView from '@/features/figure/MatrixView.vue'
import DistributionReadings from '@/features/readings/DistributionReadings.vue'
import MatrixReadings from '@/features/readings/MatrixReadings.vue'
import Readings from '@/features/readings/Readings.vue'

/** What of a kind is a component. */
interface ShownKind {
  view: Component
  readings: Component
}

const SHOWN: Record<FigureDocument['kind'], ShownKind> = {
  scatterplot: { view: FigureView, readings: Readings },
  'scatterplot matrix': { view: MatrixView, readings: MatrixReadings },
  distribution: { view: FigureView, readings: DistributionReadings },
  '3-D scatterplot': { view: FigureView, readings: Readings },
}

export const shownKind = ({ kind }: Pick<FigureDocument, 'kind'>): ShownKind => SHOWN[kind]
