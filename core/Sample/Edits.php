<?php

namespace Pestle\Core\Sample;

use Pestle\Core\Audio\AudioSource;

/** What is done to a source, in order; the source itself stays as it is. */
final readonly class Edits
{
    public const MAX = 64;

    /** @param list<Edit> $list */
    public function __construct(public array $list = [])
    {
    }

    public function apply(AudioSource $source): AudioSource
    {
        foreach ($this->list as $edit) {
            $source = $edit->apply($source);
        }

        return $source;
    }

    /** Those that were not there before as they are made today; the others stay what they were. */
    public function anew(self $before): self
    {
        return new self(array_map(static fn (Edit $edit): Edit => array_filter($before->list, static fn (Edit $was): bool => $was->toArray() === $edit->toArray()) ? $edit : $edit->anew(), $this->list));
    }

    /** @return array{self, self} up to the last that takes long, and what comes after it */
    public function split(): array
    {
        $count = 0;
        foreach ($this->list as $i => $edit) {
            $count = $edit->isHeavy() ? $i + 1 : $count;
        }

        return [new self(\array_slice($this->list, 0, $count)), new self(\array_slice($this->list, $count))];
    }

    /** How long an edited sound may become: three hours at 48 kHz, or as long as it came. */
    public static function mostFrames(int $frames): int
    {
        return max(3 * 3600 * 48000, $frames);
    }

    /** Frames of the result for a source of so many; what is far too long is not counted to its end. */
    public function length(int $frames): int
    {
        foreach ($this->list as $edit) {
            $frames = $edit->length($frames);
            if ($frames > 1 << 40) {
                break;
            }
        }

        return $frames;
    }

    /** Where a frame of the result lies in the source. */
    public function toSource(int $frame, int $frames): int
    {
        $lengths = [];
        foreach ($this->list as $edit) {
            $lengths[] = $frames;
            $frames = $edit->length($frames);
        }
        $place = (float) $frame;
        foreach (array_reverse($this->list) as $i => $edit) {
            $place = $edit->back($place, $lengths[\count($lengths) - 1 - $i]);
        }

        return (int) round($place);
    }

    /** Where a frame of the source is found in the result. */
    public function fromSource(int $frame, int $frames): int
    {
        $place = (float) $frame;
        foreach ($this->list as $edit) {
            $place = $edit->forward($place, $frames);
            $frames = $edit->length($frames);
        }

        return (int) round($place);
    }

    /** Edits that sound at once, and are as long, for a source of so many frames. */
    public function lighter(int $frames): self
    {
        $list = [];
        foreach ($this->list as $edit) {
            $list[] = $edit->lighter($frames);
            $frames = $edit->length($frames);
        }

        return new self($list);
    }

    /** With everything that follows the tempo at this one. */
    public function at(float $bpm): self
    {
        return new self(array_map(static fn (Edit $edit): Edit => $edit->follows() ? $edit->set(['bpm' => $bpm]) : $edit, $this->list));
    }

    /** Frames of the source, where something follows the tempo; null where nothing does. */
    public function followedFrames(): ?int
    {
        foreach ($this->list as $edit) {
            if ($edit->follows()) {
                return (int) $edit->settings['frames'];
            }
        }

        return null;
    }

    /** Name of a sample with these edits: its hash, then those that are on as JSON. */
    public function of(string $sample): string
    {
        $heard = array_values(array_filter($this->list, static fn (Edit $edit): bool => $edit->on));
        if ([] === $heard) {
            return $sample;
        }

        return $sample.'|'.json_encode(array_map(static fn (Edit $edit): array => $edit->toArray(), $heard), \JSON_THROW_ON_ERROR | \JSON_PRESERVE_ZERO_FRACTION);
    }

    /** Those that are on, for addresses; empty when there are none. */
    public function query(): string
    {
        return ltrim($this->of(''), '|');
    }

    /** @return list<array<string, mixed>> */
    public function toArray(): array
    {
        return array_map(static fn (Edit $edit): array => $edit->toArray(), $this->list);
    }
}
