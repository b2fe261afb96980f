<?php

namespace Pestle\Core\Beat;

use Pestle\Core\Theory\Meter;
use Pestle\Core\Theory\Parameter;

/** Typed reading of untrusted fields; what does not fit is refused with the field's name. */
final readonly class Fields
{
    /** A day at 768 kHz: no place in a recording lies further. */
    public const MOST_FRAMES = 1 << 36;

    /** @param array<array-key, mixed> $values */
    public function __construct(private array $values)
    {
    }

    public function has(string $field): bool
    {
        return isset($this->values[$field]) && '' !== $this->values[$field];
    }

    public function without(string $field): self
    {
        return new self(array_diff_key($this->values, [$field => true]));
    }

    public function with(string $field, mixed $value): self
    {
        return new self([...$this->values, $field => $value]);
    }

    /** A place in a recording, in frames. */
    public function frame(string $field, int $least = 0): int
    {
        return $this->whole($field, $least, self::MOST_FRAMES);
    }

    public function text(string $field, int $most = 80): string
    {
        $value = $this->values[$field] ?? null;
        $value = \is_string($value) ? trim($value) : '';
        if (!self::isText($value, $most)) {
            throw InvalidChange::field($field, \sprintf('must be text of 1 to %d characters.', $most));
        }

        return $value;
    }

    /** Whether text() takes it: one line without control characters, not empty, of at most so many characters. */
    public static function isText(string $text, int $most = 80): bool
    {
        return '' !== trim($text) && mb_check_encoding($text, 'UTF-8') && mb_strlen($text) <= $most && !preg_match('/[\x00-\x1f\x7f]/', $text);
    }

    /** What comes near to a text from elsewhere and is one that text() takes; what else stands for it where nothing is left. */
    public static function fitted(string $text, string $else, int $most = 80): string
    {
        $text = trim(mb_substr(trim((string) preg_replace('/[\x00-\x1f\x7f]+/', ' ', mb_scrub($text, 'UTF-8'))), 0, $most));

        return '' === $text ? $else : $text;
    }

    /** An identifier: a letter, then letters, digits and hyphens. PHP makes numbers of keys that are digits alone. */
    public function id(string $field): string
    {
        $value = $this->values[$field] ?? null;
        if (!\is_string($value) || !self::isId($value)) {
            throw InvalidChange::field($field, 'must name something in this beat.');
        }

        return $value;
    }

    public static function isId(string $text): bool
    {
        return 1 === preg_match('/^[a-z][a-z0-9-]{0,39}$/D', $text);
    }

    public function meter(string $field): Meter
    {
        try {
            return Meter::named($this->text($field, 8));
        } catch (\InvalidArgumentException $e) {
            throw new InvalidChange($e->getMessage());
        }
    }

    public function hash(string $field): string
    {
        $value = $this->values[$field] ?? null;
        if (!\is_string($value) || !preg_match('/^[0-9a-f]{64}$/', $value)) {
            throw InvalidChange::field($field, 'must be the hash of a sample.');
        }

        return $value;
    }

    public function whole(string $field, int $least, int $most): int
    {
        $value = $this->values[$field] ?? null;
        if (\is_int($value) && $value >= $least && $value <= $most) {
            return $value;
        }
        $number = \is_int($value) || \is_float($value) || (\is_string($value) && is_numeric($value)) ? (float) $value : \NAN;
        if (floor($number) !== $number || $number < $least || $number > $most) {
            throw InvalidChange::field($field, \sprintf('must be a whole number from %s to %s.', number_format($least), number_format($most)));
        }

        return (int) $number;
    }

    public function number(string $field, float $least, float $most): float
    {
        $value = $this->values[$field] ?? null;
        $number = \is_int($value) || \is_float($value) || (\is_string($value) && is_numeric($value)) ? (float) $value : \NAN;
        if (!($number >= $least && $number <= $most)) {
            throw InvalidChange::field($field, \sprintf('must be a number from %s to %s.', $least, $most));
        }

        return $number;
    }

    public function flag(string $field): bool
    {
        $value = $this->values[$field] ?? null;

        return match ($value) {
            true, 1, '1', 'true' => true,
            false, 0, '0', 'false' => false,
            default => throw InvalidChange::field($field, 'must be on or off.'),
        };
    }

    /** As it came: for what is read elsewhere. */
    public function raw(string $field): mixed
    {
        return $this->values[$field] ?? null;
    }

    /**
     * Those of the parameters that are named, each as it asks to be read.
     *
     * @param array<string, Parameter> $parameters by field
     *
     * @return array<string, mixed>
     */
    public function settings(array $parameters): array
    {
        $settings = [];
        foreach (array_intersect_key($parameters, $this->values) as $field => $parameter) {
            try {
                $settings[$field] = $parameter->read($this->values[$field]);
            } catch (\InvalidArgumentException $e) {
                throw InvalidChange::field($field, $e->getMessage());
            }
        }

        return $settings;
    }

    /**
     * @template T of \BackedEnum
     *
     * @param class-string<T> $enum
     *
     * @return T
     */
    public function choice(string $field, string $enum): \BackedEnum
    {
        $value = $this->values[$field] ?? null;
        $case = \is_string($value) ? $enum::tryFrom($value) : null;
        if (null === $case) {
            $names = array_map(static fn (\BackedEnum $c): string => (string) $c->value, $enum::cases());
            throw InvalidChange::field($field, \sprintf('must be one of: %s.', implode(', ', $names)));
        }

        return $case;
    }

    /** @return list<self> */
    public function rows(string $field, int $most): array
    {
        return $this->map($field, $most, static fn (): null => null, static fn (self $row): self => $row);
    }

    /**
     * @template T of object
     *
     * @param \Closure(array<array-key, mixed>): ?T $quick reads a row that is as most are; gives back null for any other
     * @param \Closure(self): T                     $read  reads any row, or refuses it
     *
     * @return list<T>
     */
    public function map(string $field, int $most, \Closure $quick, \Closure $read): array
    {
        $out = [];
        foreach ($this->items($field, $most) as $row) {
            if (!\is_array($row)) {
                throw InvalidChange::field($field, 'must be a list of entries.');
            }
            $out[] = $quick($row) ?? $read(new self($row));
        }

        return $out;
    }

    /** @return list<int> */
    public function wholes(string $field, int $most, int $highest): array
    {
        $out = [];
        foreach ($this->items($field, $most) as $value) {
            $out[] = (new self([$field => $value]))->whole($field, 0, $highest);
        }

        return $out;
    }

    /** @return list<float> */
    public function numbers(string $field, int $most, float $least, float $highest): array
    {
        return array_map(static fn (mixed $value): float => (new self([$field => $value]))->number($field, $least, $highest), $this->items($field, $most));
    }

    /** @return list<string> identifiers */
    public function ids(string $field, int $most): array
    {
        return array_map(static fn (mixed $value): string => (new self([$field => $value]))->id($field), $this->items($field, $most));
    }

    /** @return list<string> short texts, at most so many */
    public function texts(string $field, int $most): array
    {
        return array_map(static fn (mixed $value): string => (new self([$field => $value]))->text($field), $this->items($field, $most));
    }

    /** Fields within a field, which a form sends as JSON. */
    public function nested(string $field): self
    {
        $value = $this->values[$field] ?? null;
        $value = \is_string($value) ? json_decode($value, true, 32) : $value;
        if (!\is_array($value)) {
            throw InvalidChange::field($field, 'is missing.');
        }

        return new self($value);
    }

    /** @return list<string> */
    public function keys(): array
    {
        return array_map(strval(...), array_keys($this->values));
    }

    /** @return list<mixed> */
    public function items(string $field, int $most): array
    {
        $value = $this->values[$field] ?? null;
        if (\is_string($value)) {
            $value = json_decode($value, true);
        }
        if (!\is_array($value) || !array_is_list($value) || \count($value) > $most) {
            throw InvalidChange::field($field, \sprintf('must be a list of at most %s entries.', number_format($most)));
        }

        return $value;
    }
}
