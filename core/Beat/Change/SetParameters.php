<?php

namespace Pestle\Core\Beat\Change;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;
use Pestle\Core\Beat\Parameters;

/** Sets parameters to values, each under its path, or with "under" what comes before it. One gesture may set several. */
final readonly class SetParameters implements Change
{
    private const MOST = 500;

    /** @param non-empty-array<string, mixed> $values by path */
    private function __construct(private array $values)
    {
    }

    public static function from(Fields $fields): self
    {
        $under = $fields->has('under') ? $fields->text('under', 200).'/' : '';
        $values = [];
        foreach (array_diff($fields->keys(), ['type', 'under', 'changeId']) as $path) {
            $values[$under.$path] = $fields->raw($path);
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
        $setting = Parameters::at($beat, (string) array_key_first($this->values));

        return $setting->parameter->name.' of '.$setting->owner;
    }

    public function touches(): array
    {
        $paths = array_map(strval(...), array_keys($this->values));

        return \in_array('tempo', $paths, true) ? [...$paths, ...SetTempo::TOUCHES] : $paths;
    }
}
