;; Many vectors compared with one (WebAssembly SIMD): dot products sixteen numbers at a time, and bits that differ.
(module
  (memory (export "memory") 1)
  ;; a: address of the vector; rows: address of the first of n rows; bytes: length of a row, a multiple of 64;
  ;; out: address of n results.
  (func (export "scan") (param $a i32) (param $rows i32) (param $n i32) (param $bytes i32) (param $out i32)
    (local $k i32) (local $s0 v128) (local $s1 v128) (local $s2 v128) (local $s3 v128)
    (block $done
      (br_if $done (i32.eqz (local.get $n)))
      (loop $row
        (local.set $s0 (v128.const f32x4 0 0 0 0))
        (local.set $s1 (v128.const f32x4 0 0 0 0))
        (local.set $s2 (v128.const f32x4 0 0 0 0))
        (local.set $s3 (v128.const f32x4 0 0 0 0))
        (local.set $k (i32.const 0))
        (loop $part
          (local.set $s0 (f32x4.add (local.get $s0) (f32x4.mul
            (v128.load (i32.add (local.get $a) (local.get $k)))
            (v128.load (i32.add (local.get $rows) (local.get $k))))))
          (local.set $s1 (f32x4.add (local.get $s1) (f32x4.mul
            (v128.load offset=16 (i32.add (local.get $a) (local.get $k)))
            (v128.load offset=16 (i32.add (local.get $rows) (local.get $k))))))
          (local.set $s2 (f32x4.add (local.get $s2) (f32x4.mul
            (v128.load offset=32 (i32.add (local.get $a) (local.get $k)))
            (v128.load offset=32 (i32.add (local.get $rows) (local.get $k))))))
          (local.set $s3 (f32x4.add (local.get $s3) (f32x4.mul
            (v128.load offset=48 (i32.add (local.get $a) (local.get $k)))
            (v128.load offset=48 (i32.add (local.get $rows) (local.get $k))))))
          (local.set $k (i32.add (local.get $k) (i32.const 64)))
          (br_if $part (i32.lt_u (local.get $k) (local.get $bytes))))
        (local.set $s0 (f32x4.add (f32x4.add (local.get $s0) (local.get $s1)) (f32x4.add (local.get $s2) (local.get $s3))))
        (f32.store (local.get $out) (f32.add
          (f32.add (f32x4.extract_lane 0 (local.get $s0)) (f32x4.extract_lane 1 (local.get $s0)))
          (f32.add (f32x4.extract_lane 2 (local.get $s0)) (f32x4.extract_lane 3 (local.get $s0)))))
        (local.set $out (i32.add (local.get $out) (i32.const 4)))
        (local.set $rows (i32.add (local.get $rows) (local.get $bytes)))
        (local.set $n (i32.sub (local.get $n) (i32.const 1)))
        (br_if $row (local.get $n)))))

  ;; Rows of 128 bytes that differ from `a` in at most `limit` bits, and in the first half in at most `half`: their numbers
  ;; from `first` on and their differences are written to `out` in turn, and how many there are is the answer.
  (func (export "near") (param $a i32) (param $rows i32) (param $n i32) (param $half i32) (param $limit i32) (param $first i32) (param $out i32) (result i32)
    (local $s v128) (local $bits i32) (local $hits i32)
    (block $done
      (br_if $done (i32.eqz (local.get $n)))
      (loop $row
        (local.set $s (i8x16.popcnt (v128.xor (v128.load (local.get $a)) (v128.load (local.get $rows)))))
        (local.set $s (i8x16.add (local.get $s) (i8x16.popcnt (v128.xor (v128.load offset=16 (local.get $a)) (v128.load offset=16 (local.get $rows))))))
        (local.set $s (i8x16.add (local.get $s) (i8x16.popcnt (v128.xor (v128.load offset=32 (local.get $a)) (v128.load offset=32 (local.get $rows))))))
        (local.set $s (i8x16.add (local.get $s) (i8x16.popcnt (v128.xor (v128.load offset=48 (local.get $a)) (v128.load offset=48 (local.get $rows))))))
        (local.set $s (i32x4.extadd_pairwise_i16x8_u (i16x8.extadd_pairwise_i8x16_u (local.get $s))))
        (local.set $bits (i32.add
            (i32.add (i32x4.extract_lane 0 (local.get $s)) (i32x4.extract_lane 1 (local.get $s)))
            (i32.add (i32x4.extract_lane 2 (local.get $s)) (i32x4.extract_lane 3 (local.get $s)))))
        (if (i32.le_u (local.get $bits) (local.get $half))
          (then
        (local.set $s (i8x16.popcnt (v128.xor (v128.load offset=64 (local.get $a)) (v128.load offset=64 (local.get $rows)))))
        (local.set $s (i8x16.add (local.get $s) (i8x16.popcnt (v128.xor (v128.load offset=80 (local.get $a)) (v128.load offset=80 (local.get $rows))))))
        (local.set $s (i8x16.add (local.get $s) (i8x16.popcnt (v128.xor (v128.load offset=96 (local.get $a)) (v128.load offset=96 (local.get $rows))))))
        (local.set $s (i8x16.add (local.get $s) (i8x16.popcnt (v128.xor (v128.load offset=112 (local.get $a)) (v128.load offset=112 (local.get $rows))))))
        (local.set $s (i32x4.extadd_pairwise_i16x8_u (i16x8.extadd_pairwise_i8x16_u (local.get $s))))
        (local.set $bits (i32.add (local.get $bits) (i32.add
            (i32.add (i32x4.extract_lane 0 (local.get $s)) (i32x4.extract_lane 1 (local.get $s)))
            (i32.add (i32x4.extract_lane 2 (local.get $s)) (i32x4.extract_lane 3 (local.get $s))))))
            (if (i32.le_u (local.get $bits) (local.get $limit))
              (then
                (i32.store (local.get $out) (local.get $first))
                (i32.store offset=4 (local.get $out) (local.get $bits))
                (local.set $out (i32.add (local.get $out) (i32.const 8)))
                (local.set $hits (i32.add (local.get $hits) (i32.const 1)))))))
        (local.set $rows (i32.add (local.get $rows) (i32.const 128)))
        (local.set $first (i32.add (local.get $first) (i32.const 1)))
        (local.set $n (i32.sub (local.get $n) (i32.const 1)))
        (br_if $row (local.get $n))))
    (local.get $hits)))
