<?php

namespace Pestle\App\Gather;

/** What somebody looks for in the library, and how it is sorted; as the address of Gather has it. */
final readonly class LibrarySearch
{
    public const FIELDS = ['search', 'kind', 'role', 'key', 'from', 'to', 'mark'];
    private const SORTS = ['text' => 'name COLLATE NOCASE', 'added' => 'added_at', 'seconds' => 'frames * 1.0 / rate', 'kind' => 'said_kind, said_role', 'bpm' => 'said_bpm', 'key' => 'said_key', 'peak' => 'peak_db'];
    private const RECENT = 12;
    private const USED = 'SELECT sample FROM content_sample UNION SELECT sample FROM kit_sample';

    public string $sort;
    public bool $up;

    /** @param array<string, string> $fields those of FIELDS, "sort", which begins with - where the last comes first */
    public function __construct(public array $fields = [])
    {
        $sort = $fields['sort'] ?? '-added';
        $this->up = !str_starts_with($sort, '-');
        $this->sort = isset(self::SORTS[ltrim($sort, '-')]) ? ltrim($sort, '-') : 'added';
    }

    public function has(string $field): bool
    {
        return '' !== ($this->fields[$field] ?? '');
    }

    /** Whether anything is left out. */
    public function isNarrow(): bool
    {
        return [] !== array_filter(self::FIELDS, $this->has(...));
    }

    /** The sorting after a press on a column. */
    public function pressed(string $column): string
    {
        return $this->sort === $column && $this->up ? '-'.$column : $column;
    }

    /** @return array{string, list<string|float>} condition of SQL over the table of samples, and its values */
    public function where(): array
    {
        $where = ['cleared_at IS NULL'];
        $values = [];
        foreach (preg_split('/\s+/', mb_strtolower($this->fields['search'] ?? ''), -1, \PREG_SPLIT_NO_EMPTY) ?: [] as $word) {
            $where[] = "words LIKE ? ESCAPE '\\'";
            $values[] = '%'.addcslashes($word, '%_\\').'%';
        }
        foreach (['kind' => 'said_kind = ?', 'role' => 'said_role = ?', 'key' => 'said_key = ? COLLATE NOCASE'] as $field => $condition) {
            if ($this->has($field)) {
                $where[] = $condition;
                $values[] = $this->fields[$field];
            }
        }
        foreach (['from' => 'said_bpm >= ?', 'to' => 'said_bpm <= ?'] as $field => $condition) {
            if (is_numeric($this->fields[$field] ?? null)) {
                $where[] = $condition;
                $values[] = (float) $this->fields[$field];
            }
        }
        $mark = match ($this->fields['mark'] ?? '') {
            'favourite' => 'favourite = 1',
            'recent' => \sprintf('hash IN (SELECT hash FROM sample WHERE cleared_at IS NULL ORDER BY added_at DESC, name LIMIT %d)', self::RECENT),
            'unused' => self::unused(),
            'twin' => 'print IN (SELECT print FROM sample WHERE cleared_at IS NULL AND print IS NOT NULL GROUP BY print HAVING COUNT(*) > 1)',
            default => null,
        };

        return [implode(' AND ', null === $mark ? $where : [...$where, $mark]), $values];
    }

    /** What no version of a beat uses, and no kit of the shelf. */
    public static function unused(): string
    {
        return 'hash NOT IN ('.self::USED.')';
    }

    public function order(): string
    {
        $down = $this->up ? '' : ' DESC';

        return implode(', ', array_map(static fn (string $by): string => $by.$down, explode(', ', self::SORTS[$this->sort]))).', added_at DESC, name, hash';
    }
}
