import { useMemo } from 'react';
import { allModels, modelsOf } from '@/core/design/design';
import type { ApModel, ModelLookup } from '@/core/radio/catalogue';
import { useDocument } from './documentStore';

/**
 * The access point models there are to choose from, the catalogue's first, and the way from an id to one. What is tried out on the plan changes no model, so
 * that a drag draws nothing anew that asks for them.
 */
export function useModels(): Readonly<{ all: readonly ApModel[]; models: ModelLookup }> {
  const apModels = useDocument((s) => s.design.apModels);
  return useMemo(() => ({ all: allModels({ apModels }), models: modelsOf({ apModels }) }), [apModels]);
}
