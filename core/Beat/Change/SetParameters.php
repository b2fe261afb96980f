<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Parameters;

/**
 * Sets parameters to values, each under its path, or with "under" what comes before it; several of those, with spaces
 * between them, are set alike. One gesture may set many.
 */
final readonly class SetParameters implements Change
{
    private const MOST = 500;

    /** @param non-empty-array<string, mixed> $values by path */
    private function __construct(private array $values)
    {
    }

    public static function from(Fields $fields): self
    {
        $under = $fields->has('under') ? array_map(static fn (string $holder): string => $holder.'/', explode(' ', $fields->text('under', 8000))) : [''];
        $values = [];
        foreach (array_diff($fields->keys(), ['type', 'under', 'changeId']) as $path) {
            foreach ($under as $holder) {
                $values[$holder.$path] = $fields->raw($path);
            }
        }
        if ([] === $values || \count($values) > self::MOST) {
            throw new InvalidChange(\sprintf('A change sets 1 to %d parameters.', self::MOST));
        }

        return new self($values);
    }

    public function apply(Beat $beat): Beat
    {
        foreach ($this->values as $path => $value) {
            $beat = Parameters::at($beat, (string) $path)->set($value);
        }

        return $beat;
    }

    public function label(Beat $beat): string
    {
        $paths = array_map(strval(...), array_keys($this->values));
        $setting = Parameters::at($beat, $paths[0]);
        $alike = \count(array_filter($paths, static fn (string $path): bool => basename($path) === basename($paths[0])));

        return $setting->parameter->name.' of '.($alike > 1 ? $alike.' sounds' : $setting->owner);
    }

    public function touches(): array
    {
        $paths = array_map(strval(...), array_keys($this->values));

        return \in_array('tempo', $paths, true) ? [...$paths, ...SetTempo::TOUCHES] : $paths;
    }
}
