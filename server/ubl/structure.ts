/**
 * The elements of UBL 2.1 documents that are read and written here, in the order in which the standard has them: OASIS
 * Universal Business Language 2.1, "UBL-Catalogue-2.1", "UBL-Invoice-2.1" and the common aggregate components. What is
 * optional there and never written here is left out of the lists where nothing of ours stands behind it.
 */
export const STRUCTURE: Readonly<Record<string, readonly string[]>> = {
  Catalogue: [
    ...[
      'UBLExtensions',
      'UBLVersionID',
      'CustomizationID',
      'ProfileID',
      'ProfileExecutionID',
      'ID',
      'UUID',
      'ActionCode',
    ],
    ...['Name', 'IssueDate', 'IssueTime', 'RevisionDate', 'RevisionTime', 'Note', 'Description', 'VersionID'],
    ...['PreviousVersionID', 'LineCountNumeric', 'ValidityPeriod', 'ReferencedContract', 'SourceCatalogueReference'],
    ...['DocumentReference', 'Signature', 'ProviderParty', 'ReceiverParty', 'SellerSupplierParty'],
    ...['ContractorCustomerParty', 'TradingTerms', 'CatalogueLine'],
  ],
  CatalogueLine: [
    ...[
      'ID',
      'ActionCode',
      'LifeCycleStatusCode',
      'ContractSubdivision',
      'Note',
      'OrderableIndicator',
      'OrderableUnit',
    ],
    ...['ContentUnitQuantity', 'OrderQuantityIncrementNumeric', 'MinimumOrderQuantity', 'MaximumOrderQuantity'],
    ...['WarrantyInformation', 'PackLevelCode', 'ContractorCustomerParty', 'SellerSupplierParty', 'WarrantyParty'],
    ...[
      'WarrantyValidityPeriod',
      'LineValidityPeriod',
      'ItemComparison',
      'ComponentRelatedItem',
      'AccessoryRelatedItem',
    ],
    ...['RequiredRelatedItem', 'ReplacementRelatedItem', 'ComplementaryRelatedItem', 'ReplacedRelatedItem'],
    ...['RequiredItemLocationQuantity', 'DocumentReference', 'Item', 'KeywordItemProperty'],
    ...['CallForTendersLineReference', 'CallForTendersDocumentReference'],
  ],
  RequiredItemLocationQuantity: [
    ...['LeadTimeMeasure', 'MinimumQuantity', 'MaximumQuantity', 'HazardousRiskIndicator', 'TradingRestrictions'],
    ...['ApplicableTerritoryAddress', 'Price', 'DeliveryUnit', 'ApplicableTaxCategory', 'Package', 'AllowanceCharge'],
    'DependentPriceReference',
  ],
  LineValidityPeriod: [
    'StartDate',
    'StartTime',
    'EndDate',
    'EndTime',
    'DurationMeasure',
    'DescriptionCode',
    'Description',
  ],
  Price: [
    ...['PriceAmount', 'BaseQuantity', 'PriceChangeReason', 'PriceTypeCode', 'PriceType', 'OrderableUnitFactorRate'],
    ...['ValidityPeriod', 'PriceList', 'AllowanceCharge', 'PricingExchangeRate'],
  ],
  Item: [
    ...['Description', 'PackQuantity', 'PackSizeNumeric', 'CatalogueIndicator', 'Name', 'HazardousRiskIndicator'],
    ...['AdditionalInformation', 'Keyword', 'BrandName', 'ModelName', 'BuyersItemIdentification'],
    ...['SellersItemIdentification', 'ManufacturersItemIdentification', 'StandardItemIdentification'],
    ...['CatalogueItemIdentification', 'AdditionalItemIdentification', 'CatalogueDocumentReference'],
    ...['ItemSpecificationDocumentReference', 'OriginCountry', 'CommodityClassification', 'TransactionConditions'],
    ...['HazardousItem', 'ClassifiedTaxCategory', 'AdditionalItemProperty', 'ManufacturerParty'],
    ...['InformationContentProviderParty', 'OriginAddress', 'ItemInstance', 'Certificate', 'Dimension'],
  ],
  Invoice: [
    ...['UBLExtensions', 'UBLVersionID', 'CustomizationID', 'ProfileID', 'ProfileExecutionID', 'ID', 'CopyIndicator'],
    ...['UUID', 'IssueDate', 'IssueTime', 'DueDate', 'InvoiceTypeCode', 'Note', 'TaxPointDate', 'DocumentCurrencyCode'],
    ...['TaxCurrencyCode', 'PricingCurrencyCode', 'PaymentCurrencyCode', 'PaymentAlternativeCurrencyCode'],
    ...[
      'AccountingCostCode',
      'AccountingCost',
      'LineCountNumeric',
      'BuyerReference',
      'InvoicePeriod',
      'OrderReference',
    ],
    ...['BillingReference', 'DespatchDocumentReference', 'ReceiptDocumentReference', 'StatementDocumentReference'],
    ...['OriginatorDocumentReference', 'ContractDocumentReference', 'AdditionalDocumentReference', 'ProjectReference'],
    ...['Signature', 'AccountingSupplierParty', 'AccountingCustomerParty', 'PayeeParty', 'BuyerCustomerParty'],
    ...['SellerSupplierParty', 'TaxRepresentativeParty', 'Delivery', 'DeliveryTerms', 'PaymentMeans', 'PaymentTerms'],
    ...['PrepaidPayment', 'AllowanceCharge', 'TaxExchangeRate', 'PricingExchangeRate', 'PaymentExchangeRate'],
    ...['PaymentAlternativeExchangeRate', 'TaxTotal', 'WithholdingTaxTotal', 'LegalMonetaryTotal', 'InvoiceLine'],
  ],
  InvoiceLine: [
    ...['ID', 'UUID', 'Note', 'InvoicedQuantity', 'LineExtensionAmount', 'TaxPointDate', 'AccountingCostCode'],
    ...['AccountingCost', 'PaymentPurposeCode', 'InvoicePeriod', 'OrderLineReference', 'DespatchLineReference'],
    ...['ReceiptLineReference', 'BillingReference', 'DocumentReference', 'PricingReference', 'OriginatorParty'],
    ...['Delivery', 'PaymentTerms', 'AllowanceCharge', 'TaxTotal', 'WithholdingTaxTotal', 'Item', 'Price'],
    ...['DeliveryTerms', 'SubInvoiceLine', 'ItemPriceExtension'],
  ],
  AllowanceCharge: [
    ...['ID', 'ChargeIndicator', 'AllowanceChargeReasonCode', 'AllowanceChargeReason', 'MultiplierFactorNumeric'],
    ...['PrepaidIndicator', 'SequenceNumeric', 'Amount', 'BaseAmount', 'AccountingCostCode', 'AccountingCost'],
    ...['PerUnitAmount', 'TaxCategory', 'TaxTotal', 'PaymentMeans'],
  ],
  LegalMonetaryTotal: [
    ...['LineExtensionAmount', 'TaxExclusiveAmount', 'TaxInclusiveAmount', 'AllowanceTotalAmount', 'ChargeTotalAmount'],
    ...['PrepaidAmount', 'PayableRoundingAmount', 'PayableRoundingAlternativeAmount', 'PayableAmount'],
  ],
};
