<?php

declare(strict_types=1);

namespace Ypomna\App\Shared;

use Ypomna\Core\Address\InvalidRules;
use Ypomna\Core\Address\Key;
use Ypomna\Core\Address\KeyRules;
use Ypomna\Core\Address\Url;

/** Keys and hashes of addresses in the form in which the tables hold them. */
final class AddressKeys
{
    /** Where an installation's own rules stand, in its data folder. */
    public const OWN_RULES = 'address-rules.txt';
    /** What the unique index can hold; a longer key ends in a digest of itself. */
    private const LONGEST = 2_048;

    private static ?KeyRules $rules = null;

    /**
     * The rules in force: those that ship, and the installation's own.
     *
     * @throws InvalidRules
     */
    public static function rules(): KeyRules
    {
        if (null === self::$rules) {
            $own = DataFolder::ofSettings()->addressRules();
            self::$rules = is_file($own)
                ? KeyRules::shipped()->and(KeyRules::parse((string) file_get_contents($own), self::OWN_RULES))
                : KeyRules::shipped();
        }

        return self::$rules;
    }

    /** Reads them again when they are asked for next. */
    public static function forget(): void
    {
        self::$rules = null;
    }

    public static function canonical(Url $url): string
    {
        return Key::canonical($url, self::rules());
    }

    public static function stored(string $key): string
    {
        return \strlen($key) <= self::LONGEST ? $key : substr($key, 0, self::LONGEST - 65).' '.hash('sha256', $key);
    }

    public static function keyOf(string $url): string
    {
        return self::ofParsed(Url::tryParse($url), $url);
    }

    /** @param Url|null $parsed what that address is; null if it is none */
    public static function ofParsed(?Url $parsed, string $url): string
    {
        return self::stored(null === $parsed ? '~'.$url : Key::of($parsed, self::rules()));
    }

    /** Of the exact spelling without the fragment, in hex. */
    public static function urlHash(string $url): string
    {
        $fragment = strpos($url, '#');

        return substr(hash('sha256', false === $fragment ? $url : substr($url, 0, $fragment)), 0, 32);
    }

    /** Of a record id, as bytes. */
    public static function idHash(string $id): string
    {
        return substr(hash('sha256', $id, true), 0, 8);
    }

    public static function keyHash(string $url): string
    {
        return self::hashOf(self::keyOf($url));
    }

    /** Of a key, in hex. */
    public static function hashOf(string $key): string
    {
        return substr(hash('sha256', $key), 0, 32);
    }
}
