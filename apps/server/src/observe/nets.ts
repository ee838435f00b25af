import * as ort from 'onnxruntime-node';

/** Opens a network for one thread, quietly. */
export const openNet = (file: string): Promise<ort.InferenceSession> =>
  ort.InferenceSession.create(file, {
    intraOpNumThreads: 1,
    interOpNumThreads: 1,
    graphOptimizationLevel: 'all',
    logSeverityLevel: 3,
  });
