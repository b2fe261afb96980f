<?php

namespace Pestle\Core\Audio;

/**
 * What a WAV file says of places in its sound: cue points, the loop of its sampler chunk, and the note it was recorded at.
 * Source: Microsoft "New Multimedia Data Types and Data Techniques", the chunks "cue " and "smpl".
 */
final readonly class WavMarks
{
    private const MOST_CUES = 1000;
    /** Where the first loop's start lies in the chunk: after nine numbers of four bytes, its id and its type. */
    private const LOOP = 44;

    /**
     * @param list<int>            $cues frames, ascending
     * @param array{int, int}|null $loop first frame and the one after the last; null where there is none, or it makes no sense
     * @param int|null             $root MIDI note; null where none is named
     */
    private function __construct(public array $cues, public ?array $loop, public ?int $root)
    {
    }

    /** @param int|null $frames length of the sound: what lies beyond it is left out; null where that is looked at later */
    public static function in(string $path, ?int $frames = null): self
    {
        $chunks = WavChunks::of($path, 'cue ', 'smpl');
        $cues = array_values(array_unique(array_filter(self::cues($chunks['cue '] ?? ''), static fn (int $frame): bool => null === $frames || $frame < $frames)));
        sort($cues);
        $loop = self::loop($chunks['smpl'] ?? '');
        if (null !== $loop && null !== $frames) {
            $loop = $loop[0] < $frames - 1 ? [$loop[0], min($loop[1], $frames)] : null;
        }

        return new self($cues, $loop, self::root($chunks['smpl'] ?? ''));
    }

    /** Whether nothing is said. */
    public function areEmpty(): bool
    {
        return [] === $this->cues && null === $this->loop;
    }

    /** @return list<int> */
    private static function cues(string $bytes): array
    {
        $cues = [];
        // After their number, 24 bytes each; the last four are the frame.
        for ($at = 4, $count = 0; $at + 24 <= \strlen($bytes) && $count < self::MOST_CUES; $at += 24, ++$count) {
            /** @var array{frame: int} $cue */
            $cue = unpack('Vframe', $bytes, $at + 20);
            $cues[] = $cue['frame'];
        }

        return $cues;
    }

    private static function root(string $bytes): ?int
    {
        if (\strlen($bytes) < 16) {
            return null;
        }
        /** @var array{note: int} $head */
        $head = unpack('Vnote', $bytes, 12);

        return $head['note'] > 127 ? null : $head['note'];
    }

    /** @return array{int, int}|null */
    private static function loop(string $bytes): ?array
    {
        if (\strlen($bytes) < self::LOOP + 8) {
            return null;
        }
        /** @var array{count: int} $head */
        $head = unpack('Vcount', $bytes, 28);
        /** @var array{start: int, end: int} $loop */
        $loop = unpack('Vstart/Vend', $bytes, self::LOOP);

        return $head['count'] < 1 || $loop['end'] <= $loop['start'] ? null : [$loop['start'], $loop['end'] + 1];
    }
}
