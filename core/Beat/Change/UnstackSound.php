<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Keys;
use Pestle\Core\Pattern\Pattern;
use Pestle\Core\Song\Part;

/**
 * One of the sounds that are stacked under a part: taken away, kept alone, or given a part of its own, "id", which plays the
 * same notes in the same sections from then on.
 */
final readonly class UnstackSound implements Change
{
    private function __construct(private string $part, private int $at, private string $how, private ?string $id)
    {
    }

    public static function from(Fields $fields): self
    {
        $how = $fields->text('how');
        if (!\in_array($how, ['away', 'alone', 'own'], true)) {
            throw InvalidChange::field('how', 'must be away, alone or own.');
        }

        return new self($fields->id('part'), $fields->whole('at', 0, Keys::MOST_STACKED - 1), $how, 'own' === $how ? $fields->id('id') : null);
    }

    public function apply(Beat $beat): Beat
    {
        $part = $beat->part($this->part);
        $keys = $part->keys;
        $one = $keys?->at($this->at);
        if (null === $keys || null === $one || [] === $keys->stack) {
            throw new InvalidChange(\sprintf('%s has no such sound in a stack.', $part->name));
        }
        $rest = 'alone' === $this->how ? $keys->alone($this->at) : $keys->without($this->at);
        $rest = [] === $rest->stack ? $rest->with(['name' => '']) : $rest;

        return null === $this->id ? $beat->withPart($part->with(['keys' => $rest])) : self::apart($beat, $part->with(['keys' => $rest]), $keys->alone($this->at), $this->id);
    }

    private static function apart(Beat $beat, Part $rest, Keys $one, string $id): Beat
    {
        $its = static fn (Beat $beat, string $part): array => array_keys(array_filter($beat->patterns, static fn (Pattern $p): bool => $p->part === $part));
        $copied = CopyPart::from(new Fields(['part' => $rest->id, 'id' => $id]))->apply($beat);
        $part = $copied->part($id);
        $own = $one->with(['name' => '', 'channel' => $part->keys->channel ?? '']);
        $beat = $copied->withPart($rest)->withPart($part->with(['name' => '' === $one->name ? $part->name : $one->name, 'keys' => $own]));
        $patterns = array_combine($its($copied, $rest->id), $its($copied, $id));
        foreach ($beat->sections as $section) {
            $plays = $patterns[$section->patterns[$rest->id] ?? ''] ?? null;
            $muted = \in_array($rest->id, $section->muted, true) ? [...$section->muted, $id] : $section->muted;
            $beat = null === $plays ? $beat : $beat->withSection($section->withCell($id, $plays)->with(['muted' => $muted]));
        }
        foreach ($beat->song as $entry) {
            $beat = \in_array($rest->id, $entry->muted, true) ? $beat->withEntry($entry->with(['muted' => [...$entry->muted, $id]])) : $beat;
        }

        return $beat;
    }

    public function label(Beat $beat): string
    {
        $part = $beat->part($this->part);
        $name = $part->keys?->at($this->at)->name ?? 'A sound';

        return match ($this->how) {
            'away' => \sprintf('%s away from %s', $name, $part->name),
            'alone' => \sprintf('Only %s for %s', $name, $part->name),
            default => \sprintf('%s on a part of its own', $name),
        };
    }

    public function touches(): array
    {
        return null === $this->id ? ['part/'.$this->part] : ['part/'.$this->part, 'part/'.$this->id, 'pattern', 'section', 'song', 'mixer'];
    }
}
