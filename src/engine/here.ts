import { FieldCache } from './fieldCache';
import { HANDLERS } from './handlers';
import type { EnginePool } from './pool';
import type { CallName, Params, Result } from './protocol';

/** Does each call at once, where it is asked: for programs that have nothing else to do meanwhile. */
export const enginePoolHere: Pick<EnginePool, 'call'> = {
  call<K extends CallName>(call: K, params: Params<K>): Promise<Result<K>> {
    const handler = HANDLERS[call] as (params: Params<K>) => Result<K> | Generator<unknown, Result<K>>;
    const result = handler(params);
    if (typeof (result as Generator | undefined)?.next !== 'function') return Promise.resolve(result as Result<K>);
    const steps = result as Generator<unknown, Result<K>>;
    let step = steps.next();
    while (!step.done) step = steps.next();
    return Promise.resolve(step.value);
  },
};

export const fieldsHere = (): FieldCache => new FieldCache(enginePoolHere);
