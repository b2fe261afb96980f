<?php

namespace Pestle\App\Storage;

/** What a full disk, or one that cannot be written, means for who works: said in one way, whatever met it first. */
final class DiskTrouble
{
    private const FULL = ['database or disk is full', 'No space left on device', 'Disk quota exceeded', 'the disk may be full', 'disk is full'];
    private const UNWRITABLE = ['readonly database', 'Read-only file system', 'Permission denied', 'unable to open database file', 'Unable to write file', 'Unable to create a directory'];
    private const CLEAR = 'Clear something under "Space on the disk", below the list of beats, or elsewhere, then try again.';

    /** The sentence for a failure that comes from the disk; null for any other. */
    public static function sentence(\Throwable $failure): ?string
    {
        for ($at = $failure; null !== $at; $at = $at->getPrevious()) {
            if (self::says($at->getMessage(), self::FULL)) {
                return 'The disk is full. Nothing of this was stored, and what was there before stays. '.self::CLEAR;
            }
            if (self::says($at->getMessage(), self::UNWRITABLE)) {
                return 'The data folder cannot be written. Nothing of this was stored. Check its rights, and whether its disk can be written, then try again.';
            }
        }

        return null;
    }

    public static function full(string $what): string
    {
        return \sprintf('%s could not be stored: the disk is full. %s', $what, self::CLEAR);
    }

    /** @param list<string> $words */
    private static function says(string $message, array $words): bool
    {
        return [] !== array_filter($words, static fn (string $word): bool => str_contains($message, $word));
    }
}
