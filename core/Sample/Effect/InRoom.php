<?php

namespace Pestle\Core\Sample\Effect;

use Pestle\Core\Audio\AudioSource;
use Pestle\Core\Audio\StereoBlock;
use Pestle\Core\Mix\Insert;
use Pestle\Core\Mix\InsertState;
use Pestle\Core\Mix\ReverbSettings;
use Pestle\Core\Mix\Timing;
use Pestle\Core\Theory\Tempo;

/** A sound in a room, with what rings on after it. Read in order; from before where it is, it begins anew. */
final class InRoom implements AudioSource
{
    private const BLOCK = 8192;
    private readonly Insert $room;
    private InsertState $state;
    private StereoBlock $made;
    /** Frame at which what was made last begins. */
    private int $at = 0;

    /**
     * @param float $seconds in which it dies away by 60 dB
     * @param float $mix     how much of the room is heard, 0 to 100; at 0 only silence is added
     * @param int   $tail    frames that it rings on
     */
    public function __construct(private readonly AudioSource $source, float $seconds, private readonly float $mix, private readonly int $tail)
    {
        $this->room = (new ReverbSettings('i1', decay: $seconds, highs: 55.0, mix: $mix))->insert(new Timing((float) $source->sampleRate(), Tempo::bpm(120.0)));
        $this->begin();
    }

    public function sampleRate(): int
    {
        return $this->source->sampleRate();
    }

    public function frames(): int
    {
        return $this->source->frames() + $this->tail;
    }

    public function read(int $start, int $count): StereoBlock
    {
        if (0.0 === $this->mix) {
            return $this->source->read($start, $count);
        }
        $end = min($start + $count, $this->frames());
        $from = max(0, $start);
        if ($end <= $from) {
            return StereoBlock::silence($count);
        }
        if ($from < $this->at) {
            $this->begin();
        }
        $out = StereoBlock::silence($from - $start);
        while ($from < $end) {
            while ($from >= $this->at + $this->made->frames()) {
                $this->goOn();
            }
            $take = min($end, $this->at + $this->made->frames()) - $from;
            $out = $out->append($this->made->slice($from - $this->at, $take));
            $from += $take;
        }

        return $out->append(StereoBlock::silence($start + $count - $end));
    }

    private function begin(): void
    {
        $this->state = $this->room->rest();
        $this->made = StereoBlock::silence(0);
        $this->at = 0;
    }

    private function goOn(): void
    {
        $this->at += $this->made->frames();
        [$this->made, $this->state] = $this->room->process($this->source->read($this->at, self::BLOCK), null, $this->state, $this->at);
        if ($this->at + self::BLOCK > $this->frames()) {
            $this->made = self::closed($this->made, $this->frames() - $this->at);
        }
    }

    /** What still rings where it ends is faded over its last block. */
    private static function closed(StereoBlock $block, int $frames): StereoBlock
    {
        $sides = [$block->left, $block->right];
        foreach ($sides as $s => $side) {
            foreach ($side as $i => $x) {
                $sides[$s][$i] = $x * max(0.0, 1.0 - ($i + 1) / $frames);
            }
        }

        return new StereoBlock(...$sides);
    }
}
