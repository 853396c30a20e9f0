;; Waves of spectra, four of them at four instants at once.
;;
;; The table from spectra to instants lies at 0, in tiles of four instants: for each tile its size rows of four numbers.
;; Spectra lie from $SPECTRA on, row after row; their waves are written from $WAVES on. All numbers are of single
;; precision. The memory holds tables up to 64 kB and 64 spectra of up to 128 numbers with waves of up to 128 instants.
(module
  (memory (export "memory") 4)
  (global $SPECTRA i32 (i32.const 65536))
  (global $WAVES i32 (i32.const 131072))

  (func (export "waves") (param $rows i32) (param $size i32) (param $count i32)
    (local $row i32) (local $tile i32) (local $stride i32) (local $end i32) (local $out i32) (local $outs i32)
    (local $t i32) (local $p i32) (local $q i32) (local $r i32) (local $s i32)
    (local $a v128) (local $b v128) (local $c v128) (local $d v128) (local $x v128)
    (local.set $stride (i32.shl (local.get $size) (i32.const 2)))
    (local.set $outs (i32.shl (local.get $count) (i32.const 2)))
    (loop $rows_of_four
      (local.set $tile (i32.const 0))
      (local.set $t (i32.const 0))
      (local.set $out
        (i32.add (global.get $WAVES) (i32.mul (local.get $row) (local.get $outs))))
      (loop $tiles
        (local.set $p
          (i32.add (global.get $SPECTRA) (i32.mul (local.get $row) (local.get $stride))))
        (local.set $end (i32.add (local.get $p) (local.get $stride)))
        (local.set $q (local.get $end))
        (local.set $r (i32.add (local.get $q) (local.get $stride)))
        (local.set $s (i32.add (local.get $r) (local.get $stride)))
        (local.set $a (v128.const f32x4 0 0 0 0))
        (local.set $b (local.get $a))
        (local.set $c (local.get $a))
        (local.set $d (local.get $a))
        (loop $numbers
          (local.set $x (v128.load (local.get $t)))
          (local.set $a (f32x4.add (local.get $a) (f32x4.mul (local.get $x) (v128.load32_splat (local.get $p)))))
          (local.set $b (f32x4.add (local.get $b) (f32x4.mul (local.get $x) (v128.load32_splat (local.get $q)))))
          (local.set $c (f32x4.add (local.get $c) (f32x4.mul (local.get $x) (v128.load32_splat (local.get $r)))))
          (local.set $d (f32x4.add (local.get $d) (f32x4.mul (local.get $x) (v128.load32_splat (local.get $s)))))
          (local.set $t (i32.add (local.get $t) (i32.const 16)))
          (local.set $q (i32.add (local.get $q) (i32.const 4)))
          (local.set $r (i32.add (local.get $r) (i32.const 4)))
          (local.set $s (i32.add (local.get $s) (i32.const 4)))
          (br_if $numbers
            (i32.lt_u
              (local.tee $p (i32.add (local.get $p) (i32.const 4)))
              (local.get $end))))
        (v128.store (local.get $out) (local.get $a))
        (v128.store (i32.add (local.get $out) (local.get $outs)) (local.get $b))
        (v128.store (i32.add (local.get $out) (i32.mul (local.get $outs) (i32.const 2))) (local.get $c))
        (v128.store (i32.add (local.get $out) (i32.mul (local.get $outs) (i32.const 3))) (local.get $d))
        (local.set $out (i32.add (local.get $out) (i32.const 16)))
        (br_if $tiles
          (i32.lt_u
            (local.tee $tile (i32.add (local.get $tile) (i32.const 4)))
            (local.get $count))))
      (br_if $rows_of_four
        (i32.lt_u
          (local.tee $row (i32.add (local.get $row) (i32.const 4)))
          (local.get $rows))))))
