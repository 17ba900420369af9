/** What is needed of onnxruntime, whose builds differ in everything else. */
export interface OnnxRuntime {
  readonly Tensor: new (type: 'float32' | 'int64', data: Float32Array | BigInt64Array, dims: readonly number[]) => unknown;
}
export interface OnnxSession {
  run(inputs: Record<string, unknown>): Promise<Record<string, { readonly data: unknown }>>;
}
