<?php

namespace Pestle\Core\Render;

/** What is told of a loop beside its sound: how long it is, which segments it is made of, and how loud they are. */
final readonly class LoopAnswer
{
    /** The same name means the same sound. */
    public string $name;

    /**
     * @param array{frames: int, rate: int, ticks: int, places: array<array-key, mixed>} $about
     * @param list<string>                                                               $keys   of its segments
     * @param list<array{int, int}>                                                      $places frame and frames of each
     * @param array<string, mixed>                                                       $meters as Meters::all()
     */
    public function __construct(private array $about, public array $keys, private array $places, private array $meters)
    {
        $this->name = hash('xxh128', implode('', $keys));
    }

    /** @return list<int> segments that someone lacks who has another; of another length all, as they lie elsewhere */
    public function lacking(?self $had): array
    {
        $known = $this->patches($had) ? $had->keys ?? [] : [];

        return array_keys(array_filter($this->keys, static fn (string $key, int $i): bool => $key !== ($known[$i] ?? ''), \ARRAY_FILTER_USE_BOTH));
    }

    /** @return array<string, mixed> */
    public function told(?self $had): array
    {
        return [
            ...$this->about,
            'render' => $this->name,
            'patch' => $this->patches($had),
            'changed' => array_map(fn (int $i): array => $this->places[$i], $this->lacking($had)),
            'meters' => $this->meters,
        ];
    }

    public function packed(): string
    {
        return (string) gzcompress(json_encode([$this->about, $this->keys, $this->places, $this->meters], \JSON_THROW_ON_ERROR | \JSON_PRESERVE_ZERO_FRACTION), 1);
    }

    /** What packed() gave; null for anything else. */
    public static function unpacked(string $bytes): ?self
    {
        $json = @gzuncompress($bytes);
        /** @var array{array{frames: int, rate: int, ticks: int, places: array<array-key, mixed>}, list<string>, list<array{int, int}>, array<string, mixed>}|null $parts */
        $parts = false === $json ? null : json_decode($json, true);

        return null === $parts ? null : new self(...$parts);
    }

    private function patches(?self $had): bool
    {
        return null !== $had && $had->about['frames'] === $this->about['frames'];
    }
}
