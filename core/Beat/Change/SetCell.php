<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Song\Section;

/** Lets a part play a pattern in a section, or nothing; or mutes it there, or in one coming of the section. With "own" the pattern becomes a copy of its own. */
final readonly class SetCell implements Change
{
    private function __construct(private string $section, private string $part, private ?string $pattern, private ?bool $mute, private bool $own, private ?string $entry)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self(
            $fields->id('section'),
            $fields->id('part'),
            $fields->has('pattern') ? $fields->id('pattern') : null,
            $fields->has('mute') ? $fields->flag('mute') : null,
            $fields->has('own') && $fields->flag('own'),
            $fields->has('entry') ? $fields->id('entry') : null,
        );
    }

    public function apply(Beat $beat): Beat
    {
        $section = $beat->section($this->section);
        $part = $beat->part($this->part);
        if (null !== $this->mute) {
            $where = null === $this->entry ? $section : $beat->entry($this->entry);
            $others = array_values(array_diff($where->muted, [$part->id]));
            $changed = $where->with(['muted' => $this->mute ? [...$others, $part->id] : $others]);

            return $changed instanceof Section ? $beat->withSection($changed) : $beat->withEntry($changed);
        }
        if ($this->own) {
            $shared = $beat->pattern($section->patterns[$part->id] ?? '');
            $copy = $shared->with(['id' => $beat->nextPatternId(), 'name' => mb_substr($section->name.', '.$part->name, 0, 80)]);

            return $beat->withPattern($copy)->withSection($section->withCell($part->id, $copy->id));
        }
        if (null !== $this->pattern && $beat->pattern($this->pattern)->part !== $part->id) {
            throw InvalidChange::field('pattern', \sprintf('must be a pattern of %s.', $part->name));
        }

        return $beat->withSection($section->withCell($part->id, $this->pattern));
    }

    public function label(Beat $beat): string
    {
        $where = $beat->part($this->part)->name.' in '.$beat->section($this->section)->name;

        return match (true) {
            null !== $this->mute => ($this->mute ? 'Mute ' : 'Unmute ').$where.(null === $this->entry ? '' : ', this time'),
            $this->own => 'Own pattern for '.$where,
            null === $this->pattern => 'Empty '.$where,
            default => $beat->pattern($this->pattern)->name.' for '.$where,
        };
    }

    public function touches(): array
    {
        return [null === $this->entry ? 'section/'.$this->section.'/'.$this->part : 'song/'.$this->entry.'/muted/'.$this->part, ...($this->own ? ['pattern/new'] : [])];
    }
}
