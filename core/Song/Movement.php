<?php

namespace Pestle\Core\Song;

use Pestle\Core\Theory\Curve;

/** A parameter that moves over the song, over a section or with a pattern. */
final readonly class Movement
{
    /** A jump slides at least so long, so that it does not click. */
    public const LEAST_SMOOTH_MS = 5.0;
    public const MOST_SMOOTH_MS = 1000.0;
    /** What moves time itself. */
    public const TEMPO = 'tempo';

    /**
     * @param string $path     of the parameter it moves
     * @param string $of       id of the section or pattern; empty for the song
     * @param Curve  $curve    in ticks from the start of what it belongs to
     * @param float  $smoothMs over which its values are smoothed
     * @param bool   $on       off, it says nothing and is kept
     *
     * @throws \InvalidArgumentException
     */
    public function __construct(public string $path, public Scope $scope, public string $of, public Curve $curve, public float $smoothMs = self::LEAST_SMOOTH_MS, public bool $on = true)
    {
        if ((Scope::Song === $scope) !== ('' === $of)) {
            throw new \InvalidArgumentException('A movement belongs to the song, or to a section or pattern by its id.');
        }
        if (!($smoothMs >= self::LEAST_SMOOTH_MS && $smoothMs <= self::MOST_SMOOTH_MS)) {
            throw new \InvalidArgumentException(\sprintf('A movement is smoothed over %g to %g ms.', self::LEAST_SMOOTH_MS, self::MOST_SMOOTH_MS));
        }
    }

    /** The one movement that there can be of a parameter in one place. */
    public static function key(Scope $scope, string $of, string $path): string
    {
        return $scope->value.'/'.$of.'/'.$path;
    }

    public function movesMixer(): bool
    {
        return str_starts_with($this->path, 'mixer/');
    }

    public function id(): string
    {
        return self::key($this->scope, $this->of, $this->path);
    }

    /** @param array<string, mixed> $changed fields by name */
    public function with(array $changed): self
    {
        /** @var array{path: string, scope: Scope, of: string, curve: Curve, smoothMs: float, on: bool} $all */
        $all = [...get_object_vars($this), ...$changed];

        return new self(...$all);
    }
}
