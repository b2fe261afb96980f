<?php

namespace Pestle\Core\Audio;

/** What every source does at its edges: frames before the start and after the end are silence. */
final class Reading
{
    /** @param callable(int, int): StereoBlock $inside reads frames that exist */
    public static function padded(int $start, int $count, int $frames, callable $inside): StereoBlock
    {
        $from = max(0, min($start, $frames));
        $to = max($from, min($start + $count, $frames));
        if ($from === $start && $to === $start + $count) {
            return $inside($start, $count);
        }
        if ($from === $to) {
            return StereoBlock::silence($count);
        }
        $block = $inside($from, $to - $from);
        $before = StereoBlock::silence(max(0, $from - $start));
        $after = StereoBlock::silence(max(0, $start + $count - $to));

        return $before->append($block)->append($after);
    }
}
