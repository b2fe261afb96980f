<?php

namespace Pestle\App\Shelf;

use Pestle\Core\Exchange\Sfz\Text;

/**
 * Files that a kit's file may name: those below folders that came with it, or that its maker gave with it, and no others,
 * whatever way a name goes and wherever links lead.
 */
final readonly class Reach
{
    private string $beside;
    /** @var non-empty-list<string> */
    private array $roots;

    /** @param string $beside where the kit's file lies; names in it begin there */
    public function __construct(string $beside, string $root, string ...$more)
    {
        $this->beside = (string) realpath($beside);
        $this->roots = array_map(static fn (string $folder): string => rtrim((string) realpath($folder), '/').'/', [$root, ...array_values($more)]);
    }

    /** A file by its name as a kit's file has it, whatever the case of its letters; null where there is none within reach. */
    public function find(string $name): ?string
    {
        $wanted = '/'.Text::cleaned($this->beside.'/'.$name);
        // Nothing outside is even looked for.
        if (!$this->holds($wanted, mb_strtolower(...))) {
            return null;
        }
        $at = '';
        foreach (explode('/', substr($wanted, 1)) as $part) {
            $there = file_exists($at.'/'.$part) ? $part : self::inAnyCase($at.'/', $part);
            if (null === $there) {
                return null;
            }
            $at .= '/'.$there;
        }
        $real = realpath($at);

        return false !== $real && is_file($real) && $this->holds($real) ? $real : null;
    }

    /** @param (callable(string): string)|null $as */
    private function holds(string $path, ?callable $as = null): bool
    {
        $as ??= static fn (string $same): string => $same;
        foreach ($this->roots as $root) {
            if (str_starts_with($as($path), $as($root))) {
                return true;
            }
        }

        return false;
    }

    private static function inAnyCase(string $folder, string $wanted): ?string
    {
        foreach (is_dir($folder) ? (@scandir($folder) ?: []) : [] as $name) {
            if (mb_strtolower($name) === mb_strtolower($wanted)) {
                return $name;
            }
        }

        return null;
    }
}
