<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\Connection;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Store\MirroredLedger;

/**
 * The codes of captures and addresses in the ledger. Nobody can compute them, so what was given out is nowhere but there and
 * in the catalogue, which takes them from there when it is made anew.
 */
final readonly class GivenCodes
{
    /**
     * A line has `captures`, codes by the place of the answer in the file, and `addresses`, codes by key: those that came with the
     * file.
     */
    public const KIND = 'codes.given';
    public const TABLE = 'scan_given_address';
    /** A line stays well below what a reader of the ledger takes. */
    private const LINE_BYTES = 131_072;

    public function __construct(private Connection $database, private MirroredLedger $ledger)
    {
    }

    /**
     * @return array<int, string> codes by place, of the captures in a file of the store
     */
    public function ofCaptures(string $path): array
    {
        $codes = [];
        foreach ($this->ledger->lines(self::KIND, $path) as $line) {
            foreach (self::pairs($line->details['captures'] ?? null) as $offset => $code) {
                $codes[(int) $offset] = $code;
            }
        }

        return $codes;
    }

    /**
     * Gathers the codes of all addresses in a table of this connection alone. Of an address that stands there twice the later
     * line counts: the earlier one was broken off before it was acknowledged.
     *
     * @return int|null number of the first line that has codes; null if none has
     */
    public function gatherAddresses(): ?int
    {
        $this->forgetAddresses();
        $this->database->executeStatement(
            'CREATE TEMPORARY TABLE '.self::TABLE.' (
                key_hash BINARY(16) NOT NULL, code VARCHAR(16) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, PRIMARY KEY (key_hash)
            )',
        );
        $first = null;
        foreach ($this->ledger->lines(self::KIND) as $line) {
            $first ??= $line->seq;
            $values = [];
            foreach (self::pairs($line->details['addresses'] ?? null) as $key => $code) {
                $values[] = "(x'".AddressKeys::hashOf((string) $key)."','".$code."')";
            }
            if ([] !== $values) {
                $this->database->executeStatement('REPLACE INTO '.self::TABLE.' VALUES '.implode(',', $values));
            }
        }

        return $first;
    }

    public function forgetAddresses(): void
    {
        $this->database->executeStatement('DROP TEMPORARY TABLE IF EXISTS '.self::TABLE);
    }

    /**
     * Enters codes that nobody was told yet. The mirror follows later: whoever writes a file down holds locks that others wait for.
     *
     * @param iterable<array{int, string}> $captures places and codes
     * @param iterable<array{string, string}> $addresses keys and codes
     */
    public function enter(string $path, iterable $captures, iterable $addresses): void
    {
        $of = ['captures' => [], 'addresses' => []];
        $length = 0;
        foreach (['captures' => $captures, 'addresses' => $addresses] as $what => $pairs) {
            foreach ($pairs as [$name, $code]) {
                $of[$what][(string) $name] = $code;
                $length += 20 + \strlen((string) $name);
                if ($length >= self::LINE_BYTES) {
                    $this->append($path, $of);
                    $of = ['captures' => [], 'addresses' => []];
                    $length = 0;
                }
            }
        }
        if ($length > 0) {
            $this->append($path, $of);
        }
    }

    /**
     * @param array<string, array<string>> $codes
     */
    private function append(string $path, array $codes): void
    {
        $this->ledger->append(self::KIND, $path, array_map(static fn (array $pairs): object => (object) $pairs, $codes));
    }

    /**
     * @return array<string> by name; what is no code is left out
     */
    private static function pairs(mixed $pairs): array
    {
        $texts = array_filter(\is_array($pairs) ? $pairs : [], \is_string(...));

        return array_filter($texts, static fn (string $code): bool => 1 === preg_match('/^'.Codes::PATTERN.'$/D', $code));
    }
}
