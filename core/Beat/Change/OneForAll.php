<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Kit\Pad;
use Pestle\Core\Kit\Role;
use Pestle\Core\Pattern\Hit;

/** Lets one pad play every hit of a kind: of all pads with a role that hold slices of a sample. Strengths and times stay. */
final readonly class OneForAll implements Change
{
    private function __construct(private string $sample, private Role $role, private string $pad)
    {
    }

    public static function from(Fields $fields): self
    {
        return new self($fields->hash('sample'), $fields->choice('role', Role::class), $fields->id('pad'));
    }

    public function apply(Beat $beat): Beat
    {
        $chosen = $beat->pad($this->pad);
        $kind = array_filter($beat->kit->pads, fn (Pad $p): bool => $p->main()->sample === $this->sample && $p->role === $this->role && $p->id !== $chosen->id);
        if ([] === $kind) {
            throw new InvalidChange(\sprintf('No other pad holds a %s of this sample.', strtolower($this->role->label())));
        }
        foreach ($beat->patterns as $pattern) {
            $hits = array_map(static fn (Hit $h): Hit => isset($kind[$h->pad]) ? $h->on($chosen->id) : $h, $pattern->hits);
            $beat = $beat->withPattern($pattern->withHits($hits));
        }

        return $beat;
    }

    public function label(Beat $beat): string
    {
        return $beat->pad($this->pad)->name.' for every '.strtolower($this->role->label());
    }

    public function touches(): array
    {
        return ['kit', 'pattern'];
    }
}
