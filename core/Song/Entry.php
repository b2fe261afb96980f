<?php

namespace Pestle\Core\Song;

use Pestle\Core\Theory\Parameter;
use Pestle\Core\Theory\Settable;
use Pestle\Core\Theory\Settings;

/** One coming of a section in the song: how often it is played there, and who is silent meanwhile. */
final readonly class Entry implements Settable
{
    use Settings;

    public const MAX_REPEATS = 64;

    /**
     * @param string       $section id of the section; beside the song, of a pattern or a stretch as well
     * @param list<string> $muted   parts that are silent here, beside those that the section mutes
     * @param list<string> $fixed   parts that are played here for what they silence and lead on to, and not heard: clips sound for them
     */
    public function __construct(public string $id, public string $section, public int $repeats = 1, public array $muted = [], public array $fixed = [])
    {
        if ($repeats < 1 || $repeats > self::MAX_REPEATS) {
            throw new \InvalidArgumentException(\sprintf('A section is repeated 1 to %d times.', self::MAX_REPEATS));
        }
    }

    /** Something that is played on its own, once through. */
    public static function once(string $what): self
    {
        return new self('', $what);
    }

    public static function parameters(): array
    {
        return ['repeats' => Parameter::whole('Repeats', '', 1, self::MAX_REPEATS, 1)];
    }

    public function with(array $changed): static
    {
        /** @var array{id: string, section: string, repeats: int, muted: list<string>, fixed: list<string>} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return ['id' => $this->id, 'section' => $this->section, 'repeats' => $this->repeats, 'muted' => $this->muted, ...[] === $this->fixed ? [] : ['fixed' => $this->fixed]];
    }
}
