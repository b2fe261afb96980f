<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;

/** A sample may be cut in several ways: keeps the slices it has as a set with a name, takes a set up again, or lets it go. */
final readonly class ChangeSliceSets implements Change
{
    private const MOST = 24;

    private function __construct(private string $sample, private string $name, private string $how)
    {
    }

    public static function from(Fields $fields): self
    {
        $how = $fields->text('how', 8);
        if (!\in_array($how, ['keep', 'use', 'remove'], true)) {
            throw InvalidChange::field('how', 'must be one of: keep, use, remove.');
        }

        return new self($fields->hash('sample'), $fields->text('name', 40), $how);
    }

    public function apply(Beat $beat): Beat
    {
        $sets = $beat->sliceSets[$this->sample] ?? [];
        if ('keep' === $this->how) {
            $sets[$this->name] = $beat->slices[$this->sample] ?? throw new InvalidChange('There are no slices yet: slice the sample first.');
            if (\count($sets) > self::MOST) {
                throw new InvalidChange(\sprintf('A sample keeps at most %d sets of slices: remove one first.', self::MOST));
            }
        }
        $set = $sets[$this->name] ?? throw new InvalidChange(\sprintf('There is no set "%s" of this sample any more.', $this->name));
        if ('use' === $this->how) {
            return $beat->with(['slices' => array_replace($beat->slices, [$this->sample => $set])]);
        }
        if ('remove' === $this->how) {
            unset($sets[$this->name]);
        }
        $all = $beat->sliceSets;
        $all[$this->sample] = $sets;

        return $beat->with(['sliceSets' => array_filter($all)]);
    }

    public function label(Beat $beat): string
    {
        return match ($this->how) {
            'keep' => 'Slices kept as ',
            'use' => 'Slices of ',
            default => 'Remove slices ',
        }.$this->name;
    }

    public function touches(): array
    {
        return ['slices/'.$this->sample];
    }
}
