<?php

declare(strict_types=1);

namespace Ypomna\App\Compare;

use Doctrine\ORM\EntityManagerInterface;
use Psr\Clock\ClockInterface;
use Ypomna\App\Catalogue\Entity\Address;
use Ypomna\App\Compare\Entity\NoiseSetting;
use Ypomna\App\Compare\Value\RuleScope;
use Ypomna\App\Shared\Actor;
use Ypomna\App\Shared\AddressKeys;
use Ypomna\App\Shared\Codes;
use Ypomna\Core\Compare\Noise\InvalidRule;
use Ypomna\Core\Compare\Noise\NoiseRule;
use Ypomna\Core\Compare\Noise\NoiseRules;
use Ypomna\Core\Compare\Noise\Patience;

/** The rules about noise that people set. */
final readonly class NoiseSettings
{
    private const MOST = 300;

    public function __construct(private EntityManagerInterface $entities, private ClockInterface $clock)
    {
    }

    /**
     * Rules that hold for an address, those of its host and folders among them.
     *
     * @param bool $ended those that were ended instead
     *
     * @return list<NoiseSetting> oldest first
     */
    public function settings(Address $address, bool $ended = false): array
    {
        $hashes = array_map(static fn (array $place): string => self::hash(...$place), RuleScope::around($address->urlKey));
        $settings = [];
        $query = $this->entities->createQuery(\sprintf(
            'SELECT n FROM %s n WHERE n.placeHash IN (:hashes) AND n.endedAt IS %s NULL ORDER BY n.id',
            NoiseSetting::class,
            $ended ? 'NOT' : '',
        ));
        $query->setParameter(
            'hashes',
            array_map(static fn (string $hash): string => (string) hex2bin($hash), $hashes),
            \Doctrine\DBAL\ArrayParameterType::BINARY,
        )->setMaxResults(self::MOST);
        foreach ((array) $query->getResult() as $setting) {
            if ($setting instanceof NoiseSetting) {
                $settings[] = $setting;
            }
        }

        return $settings;
    }

    public function rules(Address $address, Patience $patience = new Patience()): NoiseRules
    {
        $rules = [];
        foreach ($this->settings($address) as $setting) {
            try {
                $rules[] = $setting->rule();
            } catch (InvalidRule) {
                // It was valid when it was set; what this version does not understand passes over nothing.
            }
        }

        return new NoiseRules($rules, $patience);
    }

    public function set(Actor $actor, Address $address, RuleScope $scope, NoiseRule $rule): NoiseSetting
    {
        $place = $scope->placeOf($address->urlKey);
        $setting = new NoiseSetting(
            Codes::random(), $scope, $place, self::hash($scope, $place), $rule->kind, $rule->selector(), $rule->quote, $rule->pattern,
            $rule->note, $actor->name, $this->clock->now(),
        );
        $this->entities->persist($setting);
        $this->entities->flush();

        return $setting;
    }

    public function end(NoiseSetting $setting): void
    {
        $setting->endedAt = $this->clock->now();
        $this->entities->flush();
    }

    public function putBack(NoiseSetting $setting): void
    {
        $setting->endedAt = null;
        $this->entities->flush();
    }

    public function byCode(string $code): ?NoiseSetting
    {
        return $this->entities->getRepository(NoiseSetting::class)->findOneBy(['code' => $code]);
    }

    private static function hash(RuleScope $scope, string $place): string
    {
        return AddressKeys::hashOf($scope->value.' '.$place);
    }
}
