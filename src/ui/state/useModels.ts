import { useMemo } from 'react';
import { allModels, modelsOf } from '@/core/design/design';
import type { ApModel, ModelLookup } from '@/core/radio/catalogue';
import { useViewDesign } from './selectors';

/** The access point models there are to choose from, the catalogue's first, and the way from an id to one. */
export function useModels(): Readonly<{ all: readonly ApModel[]; models: ModelLookup }> {
  const { apModels } = useViewDesign();
  return useMemo(() => ({ all: allModels({ apModels }), models: modelsOf({ apModels }) }), [apModels]);
}
