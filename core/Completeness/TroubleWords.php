<?php

declare(strict_types=1);

namespace Ypomna\Core\Completeness;

use Ypomna\Core\Split;

/**
 * Words by which pages say what they are not, language by language. A sentence says something if a thing and what became of it
 * stand in it, in whatever order: so inflections and small words between them do not matter.
 */
final class TroubleWords
{
    /** More words than this make no message. */
    private const LONGEST = 20;
    /** Such a share of a sentence makes it nothing else. */
    private const FILLED = 0.5;

    /** By language: what may be gone; and what is said of it. */
    private const GONE = [
        'en' => ['\b(?:(?:web ?)?pages?|documents?|files?|articles?|story|stories|content|(?:web)?site|resource|url|address|links?|'
            .'items?|products?|listings?|posts?|threads?|topics?|entry|notices?|videos?|images?|pictures?|photos?|users?|accounts?|'
                .'profiles?|events?|jobs?|vacancy|positions?|offers?|adverts?|auctions?|reports?|releases?|blog|comments?|downloads?|'
                    .'episodes?|recordings?|forms?|surveys?|albums?|channels?|groups?|reviews?|publications?|what you(?:[’\']re| are|'
                        .' were) looking for)\b',
            '(?:\bnot|n[’\']t|\bcannot|unable to|failed to|no longer)\b[^.!?\n]{0,30}\b(?:found|find|exists?|available|there|here|'
                .'locate\w*|accessible|online|valid|active|visible)\b|\bno longer\b|\b(?:(?:has|have|was|were|is|are|had to) (?:been |be'
                    .' |now )?)?(?:removed|deleted|withdrawn|unpublished|unavailable|expired|discontinued|deactivated|no such)\b|'
                        .'\b(?:is|are|was|were|has|have|[’\']s) (?:now |been |already )?(?:gone|missing)\b|\btaken (?:\w+ ){0,4}(?:down|'
                            .'offline)\b|\bdoes ?n[o’\']t exist\b'],
        'de' => ['\b(?:web)?(?:seiten?|artikel[ns]?|beitr(?:ag|äge)\w*|inhalte?[ns]?|dokumente?[ns]?|datei(?:en)?|meldung(?:en)?|'
            .'eintr(?:ag|äge)\w*|them(?:a|en)|thread|angebote?[ns]?|anzeigen?|links?|adresse|url|videos?|bild(?:er)?|produkte?[ns]?|'
                .'stellen(?:angebot|anzeige)?|nutzer\w*|benutzer\w*|profil|konto|veranstaltung|bericht\w*)\b',
            '\bnicht\b[^.!?\n]{0,30}\b(?:gefunden|finden|verfügbar|vorhanden|abrufbar|erreichbar|online|existent|auffindbar|existier\w*|'
                .'exsistier\w*|mehr)\b|\bexistiert\b[^.!?\n]{0,15}\bnicht\b|\bgibt (?:es|\'s)\b[^.!?\n]{0,25}\bnicht\b|\b(?:(?:wurden?|'
                    .'ist|sind) (?:leider |inzwischen )?)?(?:gelöscht|entfernt|abgelaufen|depubliziert|zurückgezogen|offline genommen|'
                        .'nicht mehr|verschwunden)\b'],
        'fr' => ['\b(?:pages?|articles?|documents?|contenus?|fichiers?|billets?|annonces?|sujets?|vidéos?|images?|liens?|adresse|'
            .'produits?|offres?|ressource|profil|compte|événement|publication|site)\b',
            '\b(?:(?:a été|ont été|est|a) )?(?:introuvables?|inexistante?s?|indisponibles?|supprimée?s?|retirée?s?|effacée?s?|'
                .'expirée?s?|disparue?s?|non trouvée?s?)\b|\bn[’\'](?:existe|est|a|ont)\b[^.!?\n]{0,25}\b(?:pas|plus)\b|'
                    .'\bn[’\']existe\b|\bplus (?:disponible|en ligne|accessible)s?\b|\bpas (?:pu (?:être )?)?(?:trouv\w+|disponible)'],
        'es' => ['\b(?:páginas?|artículos?|contenidos?|documentos?|archivos?|entradas?|noticias?|anuncios?|vídeos?|videos?|imagen|'
            .'enlaces?|dirección|producto|oferta|recurso|perfil|cuenta|usuario|evento|publicación|sitio|tema)\b',
            '\bno\b[^.!?\n]{0,30}\b(?:encontrad\w+|encontrar|existe|existía|disponibles?|está|hallad\w+|encuentra|localiza\w*)\b|\bya'
                .' no\b|\b(?:(?:ha sido|fue|está) )?(?:eliminad[oa]s?|borrad[oa]s?|retirad[oa]s?|caducad[oa]s?|inexistente|'
                    .'suprimid[oa]s?)\b'],
        'it' => ['\b(?:pagin[ae]|articol[oi]|contenut[oi]|document[oi]|file|annunci?o?|notizi[ae]|video|immagin[ei]|link|indirizzo|'
            .'prodott[oi]|offert[ae]|risorsa|profilo|utente|evento|post|sito)\b',
            '\bnon\b[^.!?\n]{0,25}\b(?:trovat\w+|trovare|esiste|esist\w+|disponibil\w+|presente|raggiungibile|c[’\']è)\b|\b(?:(?:è'
                .' stat[oa]|è|sono stat[ie]) )?(?:rimoss[oaie]|eliminat[oaie]|cancellat[oaie]|scadut[oaie]|inesistente)\b|\bnon (?:è|'
                    .'sono) più\b'],
        'pt' => ['\b(?:páginas?|artigos?|conteúdos?|documentos?|arquivos?|ficheiros?|notícias?|matérias?|anúncios?|vídeos?|imagem|'
            .'links?|ligação|endereço|produtos?|ofertas?|recurso|perfil|conta|utilizador|usuário|evento|publicação|site)\b',
            '\bnão\b[^.!?\n]{0,30}\b(?:encontrad\w+|encontrar|existe|existem|disponív\w+|está|localizad\w+|foi possível)\b|\b(?:já )?não'
                .' (?:está|existe)\b|\b(?:(?:foi|foram|está) )?(?:removid[oa]s?|apagad[oa]s?|excluíd[oa]s?|eliminad[oa]s?|expirou|'
                    .'expirad[oa]s?|inexistente|indisponível)\b'],
        'nl' => ['\b(?:pagina(?:[’\']s)?|artikel(?:en)?|inhoud|document(?:en)?|bestand(?:en)?|bericht(?:en)?|advertentie|video|'
            .'afbeelding|link|adres|product|aanbieding|profiel|gebruiker|account|evenement|vacature|site)\b',
            '\b(?:niet|bestaat)\b[^.!?\n]{0,25}\b(?:gevonden|vinden|meer|beschikbaar|bestaat|niet|bereikbaar)\b|\b(?:(?:is|werd|zijn)'
                .' )?(?:verwijderd|verlopen|verdwenen)\b'],
        'sv' => [
            '\b(?:sidan?|sidor|artikel\w*|innehåll\w*|dokument\w*|fil(?:en)?|inlägg\w*|annons\w*|video\w*|bild(?:en)?|länk\w*|adress\w*|'
                .'produkt\w*|profil\w*|evenemang\w*)\b',
            '\b(?:inte|ej)\b[^.!?\n]{0,25}\b(?:hitta\w*|finns|kvar|tillgänglig\w*)\b|\b(?:hitta\w*|finns)\b[^.!?\n]{0,15}\b(?:inte|'
                .'ej)\b|\b(?:borttagen|borttaget|tagits bort|raderats?|utgått|saknas)\b',
        ],
        'da' => [
            '\b(?:siden?|sider|artikl?e\w*|indhold\w*|dokument\w*|fil(?:en)?|indlæg\w*|opslag\w*|annonce\w*|video\w*|billede\w*|link\w*|'
                .'adresse\w*|produkt\w*|profil\w*)\b',
            '\bikke\b[^.!?\n]{0,25}\b(?:fund\w*|finde\w*|finn\w*|længere|lenger|tilgængelig\w*|tilgjengelig\w*|eksister\w*)\b|'
                .'\b(?:findes|finnes|eksisterer|fant)\b[^.!?\n]{0,15}\bikke\b|\b(?:slettet|fjernet|udløbet|utløpt)\b',
        ],
        'fi' => [
            '\b(?:sivu\w*|artikkeli\w*|sisältö\w*|asiakirja\w*|tiedosto\w*|ilmoitu\w*|video\w*|kuva\w*|linkki\w*|osoite\w*|tuote\w*|'
                .'profiili\w*)\b',
            '\bei\b[^.!?\n]{0,25}\b(?:löy[td]\w+|ole|saatavilla|voitu)\b|\b(?:poistettu|vanhentunut)\b',
        ],
        'pl' => [
            '\b(?:stron[ayęie]\w*|artykuł\w*|treś[ćc]i?|dokument\w*|plik\w*|wpis\w*|ogłoszeni\w+|ofert\w+|film\w*|obraz\w*|link\w*|'
                .'adres\w*|produkt\w*|profil\w*|wydarzeni\w+)\b',
            '\bnie\b[^.!?\n]{0,25}\b(?:znalezion\w*|istnieje|znaleźć|odnaleziono|dostępn\w+|ma)\b|\b(?:usunięt\w+|skasowan\w+|'
                .'wygas\w+)\b|\bnie znaleziono\b',
        ],
        'cs' => [
            '\b(?:stránk\w+|článe?k\w*|obsah\w*|dokument\w*|soubor\w*|příspěvek\w*|príspevok|inzerát\w*|video\w*|obrázek|odkaz\w*|'
                .'adres\w*|produkt\w*|profil\w*)\b',
            '\b(?:ne(?:nalezen\w*|byla? nalezen\w*|existuje|ní)|nebol[ao]? nájden\w*|sa nenašl\w+|nie je)\b|\b(?:smazán\w*|odstraněn\w*|'
                .'odstránen\w*|zmazan\w*|vypršel\w*)\b',
        ],
        'hu' => [
            '\b(?:oldal\w*|cikk\w*|tartalom\w*|dokumentum\w*|fájl\w*|bejegyzés\w*|hirdetés\w*|videó\w*|kép\w*|link\w*|termék\w*)\b',
            '\bnem\b[^.!?\n]{0,25}\b(?:található\w*|létezik|elérhető|találjuk)\b|\b(?:törölt\w*|eltávolít\w+|lejárt)\b',
        ],
        'ro' => [
            '\b(?:pagin[ăa]\w*|articol\w*|conținut\w*|document\w*|fișier\w*|anunț\w*|postare\w*|link\w*|adres\w+|produs\w*)\b',
            '\bnu\b[^.!?\n]{0,25}\b(?:găsit\w*|există|disponibil\w*|mai)\b|\b(?:ștears\w*|șters\w*|eliminat\w*|expirat\w*)\b',
        ],
        'el' => [
            '(?:σελίδα\w*|άρθρο\w*|περιεχόμενο|έγγραφο|αρχείο|δημοσίευση|ανάρτηση|αγγελία|βίντεο|εικόνα|σύνδεσμος|διεύθυνση|προϊόν|'
                .'προσφορά|χρήστης|προφίλ|εκδήλωση|θέμα)',
            '\bδεν\b[^.!;\n]{0,30}\b(?:βρέθηκε|βρέθηκαν|υπάρχει|υπάρχουν|βρεθεί|διαθέσιμ\w+|μπορεί)\b|\b(?:αφαιρέθηκε|αφαιρεθεί|'
                .'διαγράφηκε|διαγραφεί|έληξε|λήξει|κατέβηκε|καταργήθηκε)\b',
        ],
        'ru' => [
            '\b(?:страниц\w+|статья|статьи|материал\w*|документ\w*|файл\w*|запись|записи|публикаци\w+|объявлени\w+|видео|изображени\w+|'
                .'ссылк\w+|адрес\w*|товар\w*|пользователь|профиль|тема|контент)\b',
            '\bне\b[^.!?\n]{0,25}\b(?:найден\w*|существу\w+|доступ\w+|удалось)\b|\b(?:удал[её]н\w*|удалил\w*|снят\w*|ист[её]к\w*|'
                .'недоступ\w+|нет)\b',
        ],
        'uk' => [
            '\b(?:сторінк\w+|стаття|статті|матеріал\w*|документ\w*|файл\w*|запис\w*|публікаці\w+|оголошенн\w+|відео|посиланн\w+|'
                .'товар\w*)\b',
            '\bне\b[^.!?\n]{0,25}\b(?:знайден\w*|існу\w+|доступ\w+|вдалося)\b|\b(?:видален\w*|недоступ\w+|більше немає)\b',
        ],
        'bg' => [
            '\b(?:страниц\w+|статия\w*|публикаци\w+|документ\w*|съдържание\w*|обява\w*|чланак|страна)\b',
            '\b(?:не|није)\b[^.!?\n]{0,25}\b(?:намерен\w*|съществува|открит\w*|пронађен\w*|постои|пронајден\w*|постоји|налична)\b|'
                .'\b(?:изтрит\w*|премахнат\w*|обрисан\w*|избришан\w*)\b',
        ],
        'hr' => [
            '\b(?:stranic\w+|članak|članka|sadržaj\w*|dokument\w*|datotek\w+|objav\w+|oglas\w*|stran|članek)\b',
            '\b(?:nije|ne|ni)\b[^.!?\n]{0,25}\b(?:pronađen\w*|nađen\w*|postoji|dostupn\w+|obstaja|najden\w*|mogoče)\b|\b(?:obrisan\w*|'
                .'uklonjen\w*|izbrisan\w*|odstranjen\w*)\b',
        ],
        'tr' => [
            '(?:\bsayfa\w*|\biçeri[kğ]\w*|\bmakale\w*|\bhaber\w*|\bbelge\w*|\bdosya\w*|\bilan\w*|\bvideo\w*|\bbağlantı\w*|\badres\w*|'
                .'\bürün\w*|\bgönderi\w*)',
            '\b(?:bulunamad\w+|bulunmuyor|bulunmamaktadır|mevcut değil|yok|kaldırıl\w+|silin\w+|yayından\b[^.!?\n]{0,15}kaldır\w+|süresi'
                .' dol\w+|ulaşılam\w+)\b',
        ],
        'vi' => [
            '(?:trang|bài viết|nội dung|tài liệu|tệp|liên kết|video|sản phẩm)',
            '(?:không (?:tìm thấy|tồn tại|còn|có sẵn)|đã (?:bị )?(?:xóa|xoá|gỡ|hết hạn))',
        ],
        'id' => [
            '\b(?:halaman|laman|artikel|konten|dokumen|berkas|tautan|video|iklan|produk)\b',
            '\b(?:tidak|tak) (?:dapat )?(?:ditemukan|dijumpai|ada|tersedia|wujud)\b|\btelah (?:di)?(?:hapus|padam)\w*\b',
        ],
        'ar' => [
            '(?:الصفحة|صفحة|المقال|المقالة|المحتوى|الملف|المستند|المنشور|الرابط|الفيديو|الإعلان|المنتج)',
            '(?:غير (?:موجود|متوفر|متاح)\w*|لم (?:يتم|نتمكن)|لا (?:يوجد|توجد)|(?:تم )?(?:حذف|إزالة)\w*|حُذف\w*|لم (?:تعد|يعد))',
        ],
        'fa' => ['(?:صفحه|مقاله|مطلب|محتوا|فایل|خبر|لینک|آگهی)', '(?:یافت نشد|پیدا نشد|وجود ندارد|حذف شده|در دسترس نیست)'],
        'he' => [
            '(?:הדף|העמוד|המאמר|הכתבה|התוכן|הקובץ|הפוסט|הקישור|המודעה)',
            '(?:לא (?:נמצא|קיים|זמין)\w*|אינ[וה] (?:קיים|זמין|קיימת|זמינה)|הוסר\w*|נמחק\w*)',
        ],
        'ja' => [
            '(?:ページ|記事|投稿|コンテンツ|ファイル|画像|動画|商品|リンク|情報|URL)',
            '(?:見つかりません|見つかりませんでした|存在しません|存在しない|ありません|削除され|公開を?終了|掲載を?終了|ご覧いただけません|表示できません|なくなりました)',
        ],
        'zh' => [
            '(?:页面|頁面|网页|網頁|文章|内容|內容|文件|帖子|链接|連結|视频|影片|图片|圖片|商品|信息|資料|您访问的|地址)',
            '(?:不存在|未找到|找不到|没有找到|沒有找到|无法找到|無法找到|已?被?(?:删除|刪除|移除|下架)|已失效|已过期|已過期)',
        ],
        'ko' => ['(?:페이지|문서|기사|게시물|게시글|콘텐츠|파일|링크|동영상|이미지|상품|글)', '(?:찾을 수 없|존재하지 않|삭제|없습니다|만료|종료되)'],
        'th' => ['(?:หน้า|บทความ|เนื้อหา|ไฟล์|ลิงก์|วิดีโอ|สินค้า)', '(?:ไม่พบ|ไม่มี|ถูกลบ|หมดอายุ)'],
        'hi' => ['(?:पृष्ठ|पेज|लेख|सामग्री|फ़ाइल|लिंक)', '(?:नहीं मिल\S*|मौजूद नहीं|उपलब्ध नहीं|हटा दिया)'],
        'is' => ['\b(?:síða\w*|grein\w*|efni\w*|skjal\w*)\b', '\b(?:fannst|finnst|er)\b[^.!?\n]{0,15}\b(?:ekki|til)\b|\beytt\b'],
        'lt' => [
            '\b(?:puslapi\w*|straipsni\w*|turin\w*|lapa|raksts|saturs|leht\w*|leheküljt?|artikkel)\b',
            '\b(?:nerast\w*|neegzistuoja|nav atrast\w*|neeksistē|dzēst\w*|ištrint\w*|ei leitud|pole|kustutatud)\b',
        ],
        'ca' => [
            '\b(?:pàgin\w+|article|contingut|document|orri\w*|páxina|leathanach|faqj\w+|ukurasa)\b',
            '\b(?:no\b[^.!?\n]{0,25}\b(?:trobat|trobad\w+|existeix|disponible|atopad\w+)|ez da\b[^.!?\n]{0,15}\b(?:aurkitu|existitzen)|'
                .'esborrat|eliminad\w+|níor aimsíodh|nuk (?:u gjet|ekziston)|haukupatikana|haupo)\b',
        ],
    ];

    private const ENDED = '\b(?:(?:has|is|was) (?:now |already |been )*(?:ended|over|closed|filled|sold|finished|taken)|beendet|'
        .'verkauft|vergeben|geschlossen|terminée?|vendue?|pourvue?|finalizad[oa]|vendid[oa]|cerrad[oa]|terminat[oa]|vendut[oa]|'
        .'conclus[oa]|encerrad[oa]|gesloten|verkocht|avslutad|såld|afsluttet|solgt|zakończon\w+|sprzedan\w+|ολοκληρώθηκε|πωλήθηκε|'
        .'завершен\w*|продан\w*|закрыт\w*|sona er\w+|satıldı)\b|終了|売り切れ|已结束|已售|마감|판매 완료';

    private const NAME = '\b(?:domain\w*|domaine|dominio|domínio|domein\w*|domän\w*|domæn\w*|domen\w*|domén\w*|verkkotunnu\w*|домен\w*|'
        .'alan adı\w*)\b|域名|网域|網域|ドメイン|도메인|نطاق|הדומיין|שם המתחם|tên miền|όνομα χώρου|\b(?:buy|purchase|acquire) (?:this|the) (?:name|'
        .'website)\b|\b(?:this|the) (?:web ?)?(?:site|name) (?:is|may be|could be) (?:available )?for sale\b';
    private const IN_GENERAL = '^\W*(?:\w+ ){0,3}(?:domains|domain names)\b(?! (?:by|from|at|with)\b)|\b(?:an?|any|every|each|how to|'
        .'eine[rnms]?|jede[rnms]?|une?|un[ao]) (?:\w+ )?(?:domain|domaine|dominio|domínio)\b|\bdomains? (?:of|für|pour|para) ';
    private const SALE = '\bfor sale\b|\b(?:buy|purchase|acquire|inquire|enquire|make an offer|offer on|available|interested in|parked|'
        .'parking|expired|pending|renew\w*|premium)\b|verkauf\w*|kaufen|geparkt|abgelaufen|\b(?:à vendre|en vente|acheter|expiré)\b|'
        .'\b(?:venta|vende|compr\w+|expirado|caducado)\b|\b(?:vendita|acquista\w*|scadut\w+)\b|\b(?:venda|expirou)\b|te koop|'
        .'verlopen|till salu|til salgs?|myynnissä|sprzeda\w*|prodej\w*|predaj\w*|prodaj\w*|прода\w*|куп\w+|ист[её]к\w*|satılık|'
        .'出售|转让|轉讓|过期|過期|販売|売|お名前|期限|판매|만료|πωλείται|προς πώληση|έληξε|للبيع|למכירה|\bbán\b|hết hạn|eladó|de vânzare|на продаж';
    private const SUSPENDED = '^\W*(?:(?:this|your|the) )?(?:account|website|web site|site|hosting|webspace) (?:suspended|disabled|'
        .'deactivated)\W*$|\b(?:account|website|web site|site|hosting|webspace|page) (?:has been |is |was )(?:temporarily |currently'
        .' )?(?:suspended|disabled|deactivated|switched off)|\b(?:website|webseite|webpräsenz|internetpräsenz|webspace|konto|'
        .'seite)\b[^.!?\n]{0,30}\b(?:gesperrt|deaktiviert|abgeschaltet)|\b(?:site|compte|'
        .'hébergement)\b[^.!?\n]{0,30}\b(?:suspendu|désactivé|bloqué)|\b(?:sitio|cuenta|web|site|conta|sito|'
        .'account)\b[^.!?\n]{0,30}\b(?:suspendid[oa]|suspens[oa]|desactivad[oa]|desativad[oa]|sospes[oa]|'
        .'disattivat[oa])|(?:сайт|аккаунт|хостинг)\w*[^.!?\n]{0,30}(?:заблокирован|приостановлен|отключ[её]н)|ο'
        .' (?:ιστότοπος|λογαριασμός)[^.!;\n]{0,30}(?:ανεστάλη|απενεργοποι|αναστολή)';
    private const UNUSED = '\bthis is the default (?:web ?)?page\b|^\W*(?:this|the|your) (?:web ?)?server (?:works|is (?:working|'
        .'running|up|ready))\b|\b(?:has|have) (?:not|n[’\']t) (?:yet )?(?:been )?(?:uploaded|published|put up|set up|configured|'
        .'built)\b[^.!?\n]{0,25}\b(?:web ?)?site\b|\b(?:web ?)?site\b[^.!?\n]{0,30}\b(?:has|is) (?:not|n[’\']t) (?:yet )?(?:been'
        .' )?(?:uploaded|published|set up|configured)|\bdefault page (?:of|for) (?:the|this|your) (?:web ?)?server|\bgenerated'
        .' by the (?:\w+ ){0,3}(?:parking|domain)|\b(?:web ?)?(?:page|site) is parked\b|\brelated searches\b|\bsponsored'
        .' (?:listings|links)\b|\bhier entsteht (?:eine|in kürze|demnächst|bald)[^.!?\n]{0,20}(?:website|webseite|'
        .'internetpräsenz|präsenz|homepage)?|\bsite (?:web )?en (?:construction|cours de construction)\b|\bsitio'
        .' (?:web )?en construcción\b|\bsito (?:web )?in (?:costruzione|allestimento)\b|\bsite em construção\b|'
        .'сайт (?:находится )?в разработке|υπό κατασκευή';

    /** Without a thing: an answer with nothing behind it. */
    private const NOTHING = '/\b(?:nothing|no (?:results?|such thing|match(?:es)?)) (?:was |could be |to be )?(?:found|here|to see'
        .' here)|^\W*(?:not found|404|410|gone|oops|sorry)\W*$|(?:sorry|oops|oh no|whoops|hmm)[^.!?\n]{0,60}(?:not (?:find|here|there|'
        .'exist)|can[’\']?t find|couldn[’\']?t find|missing|gone|nothing (?:here|there))|(?:we|you) (?:can[’\']?t|cannot|could'
        .' ?n[o’\']t|were unable to|are unable to) (?:seem to )?find|(?:we|i) (?:have |[’\']?ve )?(?:re)?moved things (?:around|'
        .'about)|nicht gefunden|nichts gefunden|non trovat[oa]|niet gevonden|introuvable|no encontrad[oa]|não encontrad[oa]|'
        .'ничего не найдено|не найден[оа]?\b|δεν βρέθηκε|bulunamadı|見つかりません|未找到|لم يتم العثور/iu';
    private const NUMBER = '/^\W*(?:(?:error|fehler|erreur|errore|erro|fout|fel|virhe|błąd|chyba|hata|ошибка|σφάλμα|エラー|错误|http|status|'
        .'code)\W*)*(?:404|410)(?:\W*(?:error|fehler|erreur|errore|erro|fout|fel|not found|page not found|gone))*\W*$/iu';

    /** By language: who may read on, and reading on. */
    private const PAID = [
        [
            '(?:log ?in|sign ?in|subscri\w+|register\w*|members?(?:hip)?|premium|free account|create an? (?:free )?account|become an?)',
            '(?:(?:continue|keep|read|view|see|access|unlock)\b[^.!?\n]{0,40}\b(?:reading|article|story|full|rest|whole|page|content|'
                .'more|on)|to (?:continue|read|view|see|unlock|access)\b|(?:only|reserved|exclusively)\b[^.!?\n]{0,20}\b(?:for|to))',
        ],
        [
            '(?:abo\b|abos\b|abonn\w+|abonnement|plus-?mitglied\w*|mitglied\w*|registrier\w+|anmeld\w+|einloggen|digitalzugang|testen)',
            '(?:weiterlesen|weiter ?zu ?lesen|lesen\b[^.!?\n]{0,50}\bweiter|weiter\b[^.!?\n]{0,20}\blesen|vollständig\w*|ganzen?'
                .' (?:artikel|text|beitrag)|exklusiv|nur für|vorbehalten|freischalten)',
        ],
        [
            '(?:abonné\w*|abonnez|abonner|abonnement|connectez|inscri\w+|membres?)',
            '(?:lire la suite|continuer|réservé\w*|poursuivre|intégralité|lire (?:cet|l[’\']) ?article|il (?:vous )?reste)',
        ],
        [
            '(?:suscr[íi]\w+|regístrate|registra\w*|inicia sesión|socios?)',
            '(?:seguir leyendo|continuar leyendo|leer (?:el artículo|más)|contenido exclusivo|exclusiv\w+|solo para|reservado)',
        ],
        ['(?:abbon\w+|registra\w+|accedi|iscri\w+)', '(?:continua\w* a leggere|leggere|riservat\w+|esclusiv\w+|articolo completo)'],
        [
            '(?:assin\w+|subscri\w+|registe-se|cadastr\w+|faça login)',
            '(?:continuar (?:a ler|lendo)|ler (?:o|a|mais)|exclusiv\w+|reservad\w+|conteúdo)',
        ],
        ['(?:abonne\w+|inlog\w+|log in|registreer|lid\b|leden)', '(?:verder lezen|lees verder|lezen|alleen voor|exclusief|hele artikel)'],
        [
            '(?:prenumer\w+|abonn\w+|logg?a? (?:in|ind|inn)|bli medlem|medlemmer|medlemmar)',
            '(?:läs\w* (?:vidare|mer|hela)|fortsätt\w* läs\w*|læs\w* (?:videre|hele)|les\w* (?:videre|hele)|kun for|endast för|'
                .'forbeholdt|fortsett\w*)',
        ],
        ['(?:συνδρομ\w+|συνδεθείτε|εγγρα\w+|μέλη)', '(?:διαβάσ\w+|συνέχεια|πρόσβαση|μόνο|αποκλειστικ\w+|πλήρες)'],
        ['(?:подпи\w+|войдите|зарегистрир\w+|абонемент\w*)', '(?:чит\w+|дочитать|полн\w+|продолж\w+|только для|доступ\w*)'],
        [
            '(?:subskr\w+|prenumerat\w+|zaloguj|wykup\w*|předplat\w+|přihla\w+)',
            '(?:czyt\w+|cały artykuł|dostęp\w*|tylko dla|číst|celý článek|pouze pro)',
        ],
        ['(?:abone\w*|üye\w*|giriş yap\w*)', '(?:okuma\w*|devamı\w*|devam et\w*|özel)'],
        ['(?:会員|有料|購読|登録|ログイン)', '(?:続き|限定|全文|読む|記事)'],
        ['(?:订阅|訂閱|会员|會員|登录|登入|付费|付費)', '(?:继续|繼續|全文|阅读|閱讀|专享|專享)'],
        ['(?:구독|회원|로그인|유료)', '(?:계속|전용|전체|읽)'],
        ['(?:اشترك|الاشتراك|المشترك\w*|سجل)', '(?:قراءة|متابعة|المقال|حصري)'],
    ];
    private const LETTERS = '/newsletter|\bnieuwsbrief|\brundbrief|infolettre|\bboletín|\bper e?-?mail\b|\bby e?-?mail\b/iu';

    /** What stands with a message, and is none of the page's own text. */
    private const HELP = '/\b(?:search\w*|home ?page|front ?page|start ?page|sitemap|site map|menu|bookmarks?|browser|typed|spelling|'
        .'webmaster|address|urls?|links?|report (?:this|it)|contact us|go back|try again|visit (?:our|the)|suche\w*|startseite|'
        .'lesezeichen|adresse\w*|tippfehler|menü|rechercher?|accueil|lien|retour\w*|busca\w*|búsqueda|inicio|enlace|dirección|menú|'
        .'cerca\w*|ricerca|homepage|indirizzo|collegamento|procura\w*|início|endereço|zoek\w*|hoofdpagina|adres\w*|sök\w*|'
        .'startsidan?|søg\w*|forside\w*|hledat|úvodní|domů|szukaj|stron\w+ główn\w+|odkaz)\b|αναζήτηση|αρχική|σύνδεσμ|'
        .'διεύθυνση|поиск|главн|ссылк|адрес|arama|ana sayfa|検索|トップ|リンク|アドレス|搜索|首页|首頁|链接|返回|검색|홈|주소|ابحث|البحث|الرئيسية|'
        .'חיפוש|דף הבית/iu';

    /**
     * Whether a sentence, or a heading, says that something was not found, or is not there any more.
     *
     * @param bool $isLost whether a text that once stood there is known to be gone: then an offer that has ended is gone, too
     */
    public static function gone(string $sentence, bool $isLost = false): Saying
    {
        $sentence = mb_scrub(trim($sentence));
        $words = \count(Split::words($sentence));
        if ('' === $sentence || $words > self::LONGEST || mb_strlen($sentence) > 240) {
            return Saying::No;
        }
        if (1 === preg_match(self::NUMBER, $sentence)) {
            return Saying::Wholly;
        }
        foreach (self::GONE as [$thing, $gone]) {
            if (1 === preg_match('/'.$gone.($isLost ? '|'.self::ENDED : '').'/iu', $sentence, $what)
                && 1 === preg_match('/'.$thing.'/iu', $sentence, $which)) {
                if (1 === preg_match('/[?？؟]$/u', $sentence)) {
                    return Saying::Perhaps;
                }

                return mb_strlen($what[0].$which[0]) >= self::FILLED * mb_strlen($sentence) ? Saying::Wholly : Saying::Plainly;
            }
        }

        return 1 === preg_match(self::NOTHING, $sentence) ? Saying::Perhaps : Saying::No;
    }

    /** Whether a sentence says that a name is for sale or has run out, that hosting was ended, or that nothing was put on a server yet. */
    public static function isVacant(string $sentence, string $host): bool
    {
        $sentence = mb_scrub(trim($sentence));
        // A question, or names in general, are what a text about them has.
        if (mb_strlen($sentence) > 240 || 1 === preg_match('/[?？؟]$|'.self::IN_GENERAL.'/iu', $sentence)) {
            return false;
        }
        if (1 === preg_match('/'.self::SUSPENDED.'|'.self::UNUSED.'/iu', $sentence)) {
            return true;
        }
        if (1 !== preg_match('/'.self::SALE.'/iu', $sentence)) {
            return false;
        }
        preg_match_all('/(?:[a-z0-9-]+\.)+[a-z]{2,24}/i', $sentence, $names);
        foreach ($names[0] as $name) {
            if (str_ends_with('.'.strtolower($host), '.'.strtolower($name))) {
                return true;
            }
        }

        return 1 === preg_match('/'.self::NAME.'/iu', $sentence);
    }

    /** Whether names or their sale are spoken of at all. */
    public static function offersName(string $sentence): bool
    {
        return 1 === preg_match('/'.self::NAME.'|'.self::SALE.'/iu', mb_scrub($sentence));
    }

    /** Whether a sentence offers to read on to those who pay or sign in. */
    public static function isForSome(string $sentence): bool
    {
        $sentence = mb_scrub(trim($sentence));
        if (mb_strlen($sentence) > 220 || 1 === preg_match(self::LETTERS, $sentence)) {
            return false;
        }
        foreach (self::PAID as [$who, $reading]) {
            if (1 === preg_match('/'.(1 === preg_match('/^\(\?:[a-z]/', $who) ? '\b' : '').$who.'/iu', $sentence)
                && 1 === preg_match('/'.$reading.'/iu', $sentence)) {
                return true;
            }
        }

        return false;
    }

    /** Whether a sentence helps on somebody who has found nothing. */
    public static function helps(string $sentence): bool
    {
        return 1 === preg_match(self::HELP, mb_scrub($sentence));
    }
}
