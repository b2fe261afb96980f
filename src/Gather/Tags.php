<?php

namespace Pestle\App\Gather;

use Pestle\Core\Beat\Fields;
use Pestle\Core\Beat\InvalidChange;

/** Tags as they were typed, with commas between them. */
final class Tags
{
    private const MOST = 12;
    private const LONGEST = 30;

    /**
     * @return list<string>
     *
     * @throws InvalidChange where there are too many, or one is too long
     */
    public static function read(string $typed): array
    {
        $tags = array_values(array_unique(array_filter(array_map(trim(...), explode(',', $typed)), static fn (string $tag): bool => '' !== $tag)));
        if (\count($tags) > self::MOST) {
            throw InvalidChange::field('tags', \sprintf('must be at most %d.', self::MOST));
        }
        foreach ($tags as $tag) {
            if (!Fields::isText($tag, self::LONGEST)) {
                throw InvalidChange::field('tags', \sprintf('must be of at most %d characters each: "%s" is longer.', self::LONGEST, mb_substr($tag, 0, 40)));
            }
        }

        return $tags;
    }
}
