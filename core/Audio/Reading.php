<?php

namespace Pestle\Core\Audio;

/** What every source does at its edges: frames before the start and after the end are silence. */
final class Reading
{
    /** @param callable(int, int): StereoBlock $inside reads frames that exist */
    public static function padded(int $start, int $count, int $frames, callable $inside): StereoBlock
    {
        $end = $start + $count;
        if ($start >= 0 && $end <= $frames) {
            return $inside($start, $count);
        }
        // As statements: compiled, the ends came out as nothing where they were arguments of one another (decision 08).
        $from = $start;
        if ($from < 0) {
            $from = 0;
        }
        $to = $end;
        if ($to > $frames) {
            $to = $frames;
        }
        if ($to <= $from) {
            return StereoBlock::silence($count);
        }

        return StereoBlock::silence($from - $start)->append($inside($from, $to - $from))->append(StereoBlock::silence($end - $to));
    }
}
