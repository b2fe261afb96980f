<?php

namespace Pestle\Tests\Hearing;

/** Products of matrices by a library of the machine (Debian: libopenblas0-pthread), for what is fitted to hours of sound. */
final class Blas
{
    private const ROW_MAJOR = 101;
    private readonly \FFI $library;

    public function __construct()
    {
        $this->library = \FFI::cdef('void cblas_sgemm(int, int, int, int, int, int, float, const float*, int, const float*, int, float, float*, int);', 'libblas.so.3');
    }

    /** So many 32-bit floats, 0 at first. */
    public static function floats(int $count): \FFI\CData
    {
        return \FFI::new('float['.$count.']');
    }

    /**
     * c (rows x columns) = a b + keep c; a is rows x inner, or turned inner x rows, b inner x columns or turned. Each begins
     * at a place in its floats and has as many columns as it has.
     */
    public function product(bool $turnA, bool $turnB, int $rows, int $columns, int $inner, \FFI\CData $a, int $aAt, int $aWide, \FFI\CData $b, int $bAt, int $bWide, float $keep, \FFI\CData $c, int $cAt, int $cWide): void
    {
        $this->library->cblas_sgemm(self::ROW_MAJOR, $turnA ? 112 : 111, $turnB ? 112 : 111, $rows, $columns, $inner, 1.0, \FFI::addr($a[$aAt]), $aWide, \FFI::addr($b[$bAt]), $bWide, $keep, \FFI::addr($c[$cAt]), $cWide);
    }
}
