<?php

namespace Pestle\Core\Song;

use Pestle\Core\Kit\Keys;
use Pestle\Core\Kit\WholeKit;

/** One of those that play together: a kit, whose banks name it, or keys. */
final readonly class Part
{
    public const MOST = 64;
    public const COLOURS = ['plum', 'tide', 'basil', 'turmeric', 'paprika', 'clay'];

    /**
     * @param string|null $colour one of COLOURS; none until the maker gives it one
     * @param string|null $shelf  where its kit or instrument came from: "kit 3, version 2, print" as "3/2/ab12…"
     */
    public function __construct(public string $id, public string $name, public ?string $colour = null, public ?Keys $keys = null, public WholeKit $whole = new WholeKit(), public ?string $shelf = null)
    {
    }

    /** @param array<string, mixed> $changed fields by name */
    public function with(array $changed): self
    {
        /** @var array{id: string, name: string, colour: string|null, keys: Keys|null, whole: WholeKit, shelf: string|null} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }

    public function isKit(): bool
    {
        return null === $this->keys;
    }

    /** @return array<string, mixed> */
    public function toArray(): array
    {
        return ['id' => $this->id, 'name' => $this->name, 'colour' => $this->colour, 'keys' => $this->keys?->toArray(), 'whole' => $this->isKit() ? $this->whole->settings() : null, 'shelf' => $this->shelf];
    }
}
