<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Codec\KitCodec;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\OtherSound;
use Pestle\Core\Kit\Keys;

/** Another sound under the notes of a part, which stay as they are: as it is given, or one that is named; or another list of the waves that its own is made of, or of what its notes move. In a stack "at" says which of it is meant. */
final readonly class SetSound implements Change
{
    /** @param array<string, mixed> $own what changes of its own sound: waves, routes, name; nothing where it is another sound */
    private function __construct(private string $part, private int $at, private ?OtherSound $other, private array $own)
    {
    }

    public static function from(Fields $fields): self
    {
        $own = [...$fields->has('waves') ? ['waves' => KitCodec::waves($fields)] : [], ...$fields->has('routes') ? ['routes' => KitCodec::routes($fields)] : [], ...$fields->has('called') ? ['name' => $fields->text('called')] : []];
        $at = $fields->has('at') ? $fields->whole('at', 0, Keys::MOST_STACKED - 1) : 0;

        return new self($fields->id('part'), $at, [] === $own ? OtherSound::read($fields) : null, $own);
    }

    public function apply(Beat $beat): Beat
    {
        $part = $beat->part($this->part);
        $keys = $part->keys ?? throw new InvalidChange(\sprintf('%s is a kit: its pads hold its sounds.', $part->name));
        $one = $keys->at($this->at) ?? throw InvalidChange::field('at', \sprintf('must be one of the sounds that are stacked: %s has %d.', $part->name, \count($keys->all())));
        try {
            return $beat->withPart($part->with(['keys' => $keys->withAt($this->at, null === $this->other ? $one->with($this->own) : $this->other->for($one))]));
        } catch (\InvalidArgumentException $e) {
            throw new InvalidChange($e->getMessage());
        }
    }

    public function label(Beat $beat): string
    {
        $part = $beat->part($this->part)->name;

        return null === $this->other ? (isset($this->own['waves']) ? 'What '.$part.' is made of' : (isset($this->own['routes']) ? 'What moves what in '.$part : 'Name of a sound of '.$part)) : \sprintf('%s for %s', $this->other->name, $part);
    }

    public function touches(): array
    {
        return ['part/'.$this->part];
    }
}
