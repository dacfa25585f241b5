<?php

declare(strict_types=1);

namespace Ypomna\App\Catalogue;

use Doctrine\DBAL\ArrayParameterType;
use Doctrine\DBAL\Connection;
use Doctrine\DBAL\ParameterType;
use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Ypomna\App\Access\Gate;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Catalogue\Entity\Capture;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Codes;
use Ypomna\App\Shared\Type\MomentType;
use Ypomna\App\Shared\Viewer;
use Ypomna\Core\Address\Url;

/**
 * Addresses under which the same publication lived: a person joins them, and then they share one history; each capture keeps
 * its own address. Joining changes no capture and can be undone.
 */
final readonly class JoinedAddresses
{
    public const REASONS = ['redirect', 'content', 'canonical', 'chosen'];
    private const MOST = 50;
    private const SUGGESTIONS = 8;

    public function __construct(
        private Connection $database,
        private EntityManagerInterface $entities,
        private ClockInterface $clock,
        private CaptureContent $content,
        private SeenAddresses $seen,
        private Gate $gate,
    ) {
    }

    /**
     * @return non-empty-list<Address> that address and those joined with it, the one whose history begins first before the others
     */
    public function of(Viewer $viewer, Address $address): array
    {
        $codes = $this->database->fetchFirstColumn(
            'SELECT o.address_code FROM joined_address j JOIN joined_address o ON o.group_code = j.group_code WHERE j.address_code = ?'
                .' LIMIT '
                .self::MOST,
            [$address->code],
        );
        $group = [] === $codes
            ? [$address]
            : $this->seen->of($viewer, $this->entities->getRepository(Address::class)->findBy(['code' => $codes]));
        usort($group, static fn (Address $a, Address $b): int => [$a->firstAt, $a->code] <=> [$b->firstAt, $b->code]);

        return [] === $group ? [$address] : $group;
    }

    /**
     * @return non-empty-list<int>
     */
    public function ids(Viewer $viewer, Address $address): array
    {
        return array_map(static fn (Address $one): int => (int) $one->id, $this->of($viewer, $address));
    }

    public function join(Actor $actor, Viewer $viewer, Address $one, Address $other, string $reason): void
    {
        if ($one->code === $other->code || \count($this->of($viewer, $one)) + \count($this->of($viewer, $other)) > self::MOST) {
            return;
        }
        $reason = \in_array($reason, self::REASONS, true) ? $reason : 'chosen';
        $this->database->transactional(function () use ($actor, $one, $other, $reason): void {
            $group = $this->groupOf($one->code) ?? $this->groupOf($other->code) ?? Codes::random();
            $old = array_values(array_filter([$this->groupOf($one->code), $this->groupOf($other->code)], \is_string(...)));
            foreach ([$one, $other] as $address) {
                if (null === $this->groupOf($address->code)) {
                    $this->database->insert(
                        'joined_address',
                        [
                            'address_code' => $address->code, 'group_code' => $group, 'reason' => $reason,
                            'person' => mb_strcut($actor->name, 0, 190), 'joined_at' => MomentType::text($this->clock->now()),
                        ],
                    );
                }
            }
            if ([] !== $old) {
                $this->database->executeStatement(
                    'UPDATE joined_address SET group_code = ? WHERE group_code IN (?)',
                    [$group, $old],
                    [ParameterType::STRING, ArrayParameterType::STRING],
                );
            }
        });
    }

    /** Takes an address out of the history that it shares. */
    public function part(Address $address): void
    {
        $this->database->transactional(function () use ($address): void {
            $group = $this->groupOf($address->code);
            $this->database->delete('joined_address', ['address_code' => $address->code]);
            // One alone shares nothing.
            if (null !== $group
                && 1 === self::number($this->database->fetchOne('SELECT COUNT(*) FROM joined_address WHERE group_code = ?', [$group]))) {
                $this->database->delete('joined_address', ['group_code' => $group]);
            }
        });
    }

    /**
     * Addresses that may be of the same page: where it led on to, which had the same bytes, which it calls its own.
     *
     * @return list<array{address: Address, reason: string}>
     */
    public function suggestions(Viewer $viewer, Address $address, ?Capture $lastAlive): array
    {
        $urls = [];
        foreach ($this->database->fetchFirstColumn(
            \sprintf(<<<'SQL'
                SELECT DISTINCT redirect_to
                FROM (
                    SELECT c.redirect_to FROM capture c WHERE c.address_id = ? AND %s ORDER BY c.captured_at DESC, c.id DESC LIMIT 1000
                ) latest
                WHERE redirect_to IS NOT NULL
                LIMIT 10
                SQL, $this->gate->sight($viewer)->of('c.limited', 'c.code')),
            [$address->id],
        ) as $url) {
            $urls[] = [$url, 'redirect'];
        }
        if (null !== $lastAlive) {
            $urls[] = [$this->content->canonical($lastAlive), 'canonical'];
            if (null !== $lastAlive->payloadSha256) {
                foreach ($this->database->fetchFirstColumn(
                    "SELECT DISTINCT url FROM record r WHERE payload_sha256 = ? AND role = 'answer' AND key_hash <> ? AND "
                        .$this->gate->sight($viewer)->of('(r.limited_by IS NOT NULL)', 'r.limited_by').' LIMIT 20',
                    [hex2bin($lastAlive->payloadSha256), hex2bin(AddressKeys::hashOf($address->urlKey))],
                ) as $url) {
                    $urls[] = [$url, 'content'];
                }
            }
        }
        $found = [];
        $joined = array_map(static fn (Address $one): string => $one->urlKey, $this->of($viewer, $address));
        foreach ($urls as [$url, $reason]) {
            $key = \is_string($url) && true === Url::tryParse($url)?->isWeb() ? AddressKeys::keyOf($url) : null;
            if (null !== $key && !\in_array($key, $joined, true) && !isset($found[$key]) && \count($found) < self::SUGGESTIONS) {
                $other = $this->entities->getRepository(Address::class)->findOneBy(['urlKey' => $key]);
                $other = null === $other ? null : $this->seen->of($viewer, [$other])[0] ?? null;
                if (null !== $other) {
                    $found[$key] = ['address' => $other, 'reason' => $reason];
                }
            }
        }

        return array_values($found);
    }

    private function groupOf(string $code): ?string
    {
        $group = $this->database->fetchOne('SELECT group_code FROM joined_address WHERE address_code = ?', [$code]);

        return \is_string($group) ? $group : null;
    }

    private static function number(mixed $value): int
    {
        return is_numeric($value) ? (int) $value : 0;
    }
}
