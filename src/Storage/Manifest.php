<?php

namespace Pestle\App\Storage;

use Pestle\Core\Beat\Beat;
use Pestle\Core\Beat\BeatCodec;

/** Takes a document apart into pieces that change on their own, and puts it together again. */
final class Manifest
{
    public const PATTERN = 'pattern ';
    /** Besides patterns; what an older document does not have is not in its manifest. */
    private const PIECES = ['parts', 'kit', 'sections', 'song', 'clips', 'mixer', 'slices'];

    /** @return array<string, string> JSON of each piece, by name */
    public static function split(Beat $beat): array
    {
        $document = BeatCodec::toArray($beat);
        $pieces = [];
        /** @var list<array{id: string}> $patterns */
        $patterns = $document['patterns'];
        foreach ($patterns as $pattern) {
            $pieces[self::PATTERN.$pattern['id']] = BeatCodec::json($pattern);
        }
        foreach (self::PIECES as $piece) {
            $pieces[$piece] = BeatCodec::json($document[$piece]);
        }
        $pieces['rest'] = BeatCodec::json(array_diff_key($document, ['patterns' => 1, ...array_flip(self::PIECES)]));

        return $pieces;
    }

    /** Whether the rest of a document says that its pieces are of the format that is written now. */
    public static function isCurrent(string $rest): bool
    {
        return str_starts_with($rest, '{"format":'.BeatCodec::FORMAT.',');
    }

    /** @return list<string> samples that a piece mentions */
    public static function samples(string $json): array
    {
        preg_match_all('/"sample":"([0-9a-f]{64})"/', $json, $matches);

        return array_values(array_unique($matches[1]));
    }

    /** @param array<string, string> $pieces */
    public static function join(array $pieces): string
    {
        $patterns = [];
        foreach ($pieces as $name => $json) {
            if (str_starts_with($name, self::PATTERN)) {
                $patterns[] = $json;
            }
        }
        $members = [];
        foreach (array_intersect_key($pieces, array_flip(self::PIECES)) as $name => $json) {
            $members[] = json_encode($name).':'.$json;
        }

        return substr($pieces['rest'] ?? '{}', 0, -1).',"patterns":['.implode(',', $patterns).'],'.implode(',', $members).'}';
    }
}
