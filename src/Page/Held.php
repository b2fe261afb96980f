<?php

namespace Pestle\App\Page;

use Symfony\Component\HttpFoundation\RequestStack;
use Twig\Extension\AbstractExtension;
use Twig\TwigFilter;
use Twig\TwigFunction;

/**
 * What a page holds already is not sent again. A page that asks for a change names the hashes of the pieces and lists it
 * holds (X-Pestle-Has); in the answer such a piece stays empty, and of a list comes what to take from it and to put to it.
 */
final class Held extends AbstractExtension
{
    public const HEADER = 'X-Pestle-Has';

    public function __construct(private readonly RequestStack $requests)
    {
    }

    public function getFilters(): array
    {
        return [new TwigFilter('kept', $this->kept(...), ['is_safe' => ['html']])];
    }

    public function getFunctions(): array
    {
        return [new TwigFunction('rows', $this->rows(...), ['is_safe' => ['html']])];
    }

    /** A piece of a page, under a name of its own. */
    public function kept(string $html, string $name): string
    {
        $hash = self::hash($name.$html);

        return \sprintf('<div class="kept" id="kept-%s" data-kept="%s"%s>%s</div>', $name, $hash, $this->holds($hash) ? ' data-same' : '', $this->holds($hash) ? '' : $html);
    }

    /**
     * Attributes of an element that hold a list, whole or as it differs from the one before.
     *
     * @param list<list<int|string>>      $rows
     * @param list<list<int|string>>|null $before
     */
    public function rows(string $name, array $rows, ?array $before = null): string
    {
        $whole = self::json($rows);
        // An empty list of one name is not that of another.
        $hash = self::hash($name.$whole);
        if ($this->holds($hash)) {
            return \sprintf('data-%s-hash="%s"', $name, $hash);
        }
        $base = null === $before ? '' : self::hash($name.self::json($before));
        if (null !== $before && $this->holds($base)) {
            [$old, $new] = [array_map(self::json(...), $before), array_map(self::json(...), $rows)];
            $patch = \sprintf('{"base":"%s","take":[%s],"put":[%s]}', $base, implode(',', array_diff($old, $new)), implode(',', array_diff($new, $old)));
            if (\strlen($patch) < \strlen($whole)) {
                return \sprintf('data-%1$s-hash="%2$s" data-%1$s-patch="%3$s"', $name, $hash, htmlspecialchars($patch));
            }
        }

        return \sprintf('data-%1$s-hash="%2$s" data-%1$s="%3$s"', $name, $hash, htmlspecialchars($whole));
    }

    private function holds(string $hash): bool
    {
        return str_contains(' '.$this->requests->getCurrentRequest()?->headers->get(self::HEADER).' ', ' '.$hash.' ');
    }

    private static function json(mixed $value): string
    {
        return json_encode($value, \JSON_THROW_ON_ERROR);
    }

    private static function hash(string $content): string
    {
        return substr(hash('xxh128', $content), 0, 16);
    }
}
